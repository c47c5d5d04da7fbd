import { useCallback, useState } from "react";
import type { Document, Mend, Part } from "../api/client";
import type { Gesture, Point } from "./isolate/gestures";
import { thinned } from "./isolate/gestures";
import * as words from "../words/bench";

export interface MendOptions {
  size: number;
  strength: number;
  into: boolean;
}

interface Props {
  document: Document;
  part?: Part;
  edit: (label: string, change: (d: Document) => Document) => void;
  preview: (d?: Document, part?: string) => void;
}

/** The mends of a picture: strokes of the mending brush, and edges whose old colour is taken out. */
export function useMend({ document, part, edit, preview }: Props) {
  const [options, setOptions] = useState<MendOptions>({ size: 22, strength: 60, into: false });
  const [sample, setSample] = useState<Point>();

  const brush = useCallback(
    (g: Gesture) => {
      if (g.kind !== "stroke") return;
      const first = g.stroke.points[0] as Point | undefined;
      if (g.alt && first) {
        // Alt-click takes a colour to brush with; the same place again lets it go.
        if (g.done) setSample((s) => (s && Math.hypot(s[0] - first[0], s[1] - first[1]) < 6 ? undefined : first));
        return;
      }
      const stroke = {
        radius: Math.max(0.5, Math.min(300, g.stroke.radius)),
        points: thinned(g.stroke.points as Point[], Math.max(1, g.stroke.radius / 5)),
        strength: options.strength / 100,
        ...(sample ? { sample } : {}),
        ...(options.into ? { into: true } : {}),
      };
      const add = (d: Document): Document => {
        const mends = d.mends ?? [];
        const last = mends[mends.length - 1];
        const next: Mend[] = last?.kind === "brush" && !last.off ? [...mends.slice(0, -1), { ...last, strokes: [...(last.strokes ?? []), stroke] }] : [...mends, { kind: "brush", strokes: [stroke] }];
        return { ...d, mends: next };
      };
      if (g.done) {
        preview();
        edit(words.mendingStroke, add);
      } else preview(add(document), part?.id);
    },
    [document, part?.id, options, sample, edit, preview],
  );

  /** Takes the old colour out of a place of the part's edge, or of all of it. */
  const edge = useCallback(
    (at?: { x: number; y: number; pixels: number }) => {
      if (!part) return;
      const r = at ? 24 + Math.sqrt(at.pixels) * 3 : 0;
      const mend: Mend = { kind: "edge", part: part.id, ...(at ? { box: [at.x - r, at.y - r, at.x + r, at.y + r] as [number, number, number, number] } : {}) };
      edit(at ? words.mendAPlace : words.mendTheEdge, (d) => ({ ...d, mends: [...(d.mends ?? []), mend] }));
    },
    [part, edit],
  );

  const put = useCallback((label: string, how: (mends: Mend[]) => Mend[]) => edit(label, (d) => ({ ...d, mends: how(d.mends ?? []) })), [edit]);

  return { options, setOptions, sample, setSample, brush, edge, put };
}

export type Mending = ReturnType<typeof useMend>;
