import { useCallback, useEffect, useMemo, useState } from "react";
import { api, explain, unwrap, type Areas, type Copy, type Document, type Part } from "../../api/client";
import { bringing } from "../../api/draft";
import { keyOf } from "../../api/identity";
import type { Gesture, Point } from "../isolate/gestures";
import { useLatest } from "../useLatest";
import { boxOf, copyOf, cutBox, handled, handsOf, reordered, restood, wentTo } from "./copies";
import * as words from "../../words/copies";

interface Props {
  picture: { id: string; width: number; height: number };
  document: Document;
  part?: Part;
  edit: (label: string, change: (d: Document) => Document) => void;
  preview: (d?: Document, part?: string) => void;
  onSet: (part: string) => void;
  onProblem: (message: string | undefined) => void;
}

/** Copies of parts: set beside them, moved, turned and scaled by a hand or by figures. */
export function useCopy({ picture, document, part, edit, preview, onSet, onProblem }: Props) {
  const [live, setLive] = useState<Copy>(); // as a hand that moves has it
  const kept = part?.copy;
  const copy = live ?? kept;
  useEffect(() => setLive(undefined), [part?.id]);

  const areasOf = useCallback(
    (of: string, signal?: AbortSignal): Promise<Areas> => unwrap(bringing(picture.id, document, (b) => api.POST("/api/pictures/{picture}/areas", { params: { path: { picture: picture.id } }, body: { part: of, ...b }, signal }))),
    [picture.id, document],
  );
  const original = document.parts.find((q) => q.id === kept?.of);
  const areas = useLatest<Areas>(original ? keyOf([original.id, original.picks, original.edge]) : undefined, useCallback((_, signal) => areasOf(original?.id ?? "", signal), [areasOf, original?.id]));
  const box = useMemo(() => (kept?.cut ? cutBox(kept.cut) : areas && kept ? boxOf(areas) : undefined), [areas, kept]);

  /** Sets a copy of a part beside it. */
  const set = useCallback(
    async (of: Part) => {
      try {
        const box = boxOf(await areasOf(of.id));
        if (!box) {
          onProblem(words.nameHasNothingInItYet(of.name));
          return;
        }
        onProblem(undefined);
        const copy = copyOf(document, of, box, picture);
        edit(words.aCopyOfName(of.name), (d) => ({ ...d, parts: [...d.parts, copy] }));
        onSet(copy.id);
      } catch (e) {
        onProblem(explain(e));
      }
    },
    [areasOf, document, picture, edit, onSet, onProblem],
  );

  /** Changes the copy at hand: shown while the hand moves, one step once it rests. */
  const change = useCallback(
    (label: string, next: Copy, done: boolean) => {
      if (!part) return;
      setLive(done ? undefined : next);
      if (done) {
        preview();
        edit(label, (d) => restood(d, part.id, next));
      } else preview(restood(document, part.id, next), part.id);
    },
    [part, document, edit, preview],
  );

  /** What a hand does on the picture: moves the copy. */
  const gesture = useCallback(
    (g: Gesture) => {
      if (g.kind !== "stroke" || !kept) return;
      const [first, last] = [g.stroke.points[0], g.stroke.points.at(-1)] as (Point | undefined)[];
      if (first && last) change(words.moveACopy, wentTo(kept, first, last, picture), g.done);
    },
    [kept, change, picture],
  );

  /** What a hand does that took a corner, or the turning point. */
  const hand = useCallback(
    (which: number | "turn", from: Point, to: Point, done: boolean) => {
      if (kept && box) change(which === "turn" ? words.turnACopy : words.scaleACopy, handled(kept, which, from, to), done);
    },
    [kept, box, change],
  );

  const order = useCallback((by: 1 | -1) => { if (part) edit(by > 0 ? words.aCopyFurtherToTheFront : words.aCopyFurtherBack, (d) => reordered(d, part.id, by)); }, [part, edit]);

  return { copy, set, change, gesture, hand, hands: copy && box ? handsOf(copy, box) : undefined, order };
}

export type Copying = ReturnType<typeof useCopy>;
