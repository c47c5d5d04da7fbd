import { useCallback, useRef, useState } from "react";
import { api, explain, unwrap, type Document, type FoundCover, type Patch } from "../../api/client";
import { bringing } from "../../api/draft";
import { thinned, type Gesture, type Point } from "../isolate/gestures";
import type { Node } from "../isolate/nodes";
import { beside, filledNext, fromOnePlace, isInside, pathOf, shiftedBy } from "./patches";
import * as words from "../../words/bench";

interface Props {
  picture: { id: string; width: number; height: number };
  document: Document;
  edit: (label: string, change: (d: Document) => Document) => void;
  preview: (d?: Document, part?: string) => void;
  onProblem: (message: string | undefined) => void;
}

/** Places that were found for the patch at hand, and which of them it has. */
interface Offered {
  list: FoundCover[];
  at: number;
}

/** Patches: drawn around what must go, covered by what was found or shown, and changed at any time. */
export function usePatch({ picture, document, edit, preview, onProblem }: Props) {
  const [at, setAt] = useState<number>(); // which of the mends is open
  const [offered, setOffered] = useState<Offered>();
  const [looking, setLooking] = useState(false);
  const [live, setLive] = useState<Patch>(); // as a hand that moves has it
  const mend = at === undefined ? undefined : document.mends?.[at];
  const kept = mend?.kind === "patch" ? mend.patch : undefined;
  const patch = live ?? kept;

  const turn = useRef(0); // goes on with all that a hand does: what was looked for before that is no longer wanted

  const open = useCallback((i: number | undefined) => { turn.current++; setAt(i); setOffered(undefined); setLive(undefined); }, []);

  const put = useCallback((i: number, next: Patch) => (d: Document): Document => ({ ...d, mends: d.mends?.map((m, j) => (j === i && m.kind === "patch" ? { ...m, patch: next } : m)) }), []);

  /** Changes the patch at hand: shown while the hand moves, one step once it rests. */
  const change = useCallback(
    (label: string, next: Patch, done: boolean) => {
      if (at === undefined) return;
      turn.current++;
      setLive(done ? undefined : next);
      if (done) {
        preview();
        edit(label, put(at, next));
      } else preview(put(at, next)(document));
    },
    [at, document, edit, preview, put],
  );

  const look = useCallback(
    async (nodes: Node[]) => {
      setLooking(true);
      try {
        return await unwrap(bringing(picture.id, document, (b) => api.POST("/api/pictures/{picture}/covers", { params: { path: { picture: picture.id } }, body: { patch: { nodes, shift: [0, 0], feather: 0 }, ...b } })));
      } finally {
        setLooking(false);
      }
    },
    [picture.id, document],
  );

  /** Offers places for the patch at hand; the next one where some are offered already. */
  const findCover = useCallback(async () => {
    if (!patch) return;
    const asked = ++turn.current;
    try {
      const next = offered ? { ...offered, at: (offered.at + 1) % offered.list.length } : { list: await look(patch.nodes), at: 0 };
      if (turn.current !== asked) return;
      const found = next.list[next.at];
      if (!found) {
        onProblem(words.nothingWasFoundThatCouldCover);
        return;
      }
      onProblem(undefined);
      setOffered(next);
      change(words.anotherCover, { ...fromOnePlace(patch), shift: found.shift, turn: undefined, scale: undefined, flip: undefined }, true);
    } catch (e) {
      onProblem(explain(e));
    }
  }, [patch, offered, look, change, onProblem]);

  /** Fills the patch at hand by example, another way each time. */
  const fill = useCallback(() => { if (patch) change(words.filledByExample, filledNext(patch), true); }, [patch, change]);

  /** A patch around what was drawn around; a CSS pixel is so many pixels of the picture. */
  const draw = useCallback(
    async (points: Point[], pixel: number) => {
      try {
        const fitted = await unwrap(api.POST("/api/outline", { body: { points, error: Math.max(0.3, 1.5 * pixel) } }));
        const nodes = fitted.length < 3 ? points.filter((_, i) => i % Math.max(1, Math.floor(points.length / 12)) === 0).map((p) => ({ p })) : fitted;
        if (nodes.length < 3) return;
        // Where it cannot be asked, the patch is made nevertheless.
        const found = await look(nodes).catch((e: unknown) => { onProblem(explain(e)); return undefined; });
        if (found) onProblem(undefined);
        const list = found ?? [];
        const first = list[0];
        // Where no one place could cover it, several may fill it.
        const next: Patch = { nodes, shift: first?.shift ?? beside(nodes, picture.width), feather: 3, seamless: true, ...(found && !first ? { fill: 1 } : {}) };
        let nth = 0; // what else came meanwhile is before it
        edit(words.patch, (d) => {
          nth = d.mends?.length ?? 0;
          return { ...d, mends: [...(d.mends ?? []), { kind: "patch", patch: next }] };
        });
        setAt(nth);
        setOffered(list.length > 0 ? { list, at: 0 } : undefined);
      } catch (e) {
        onProblem(explain(e));
      }
    },
    [edit, look, onProblem, picture.width],
  );

  /** What a hand does with the tool: draws around what must go, or drags the cover of the patch that is open. */
  const gesture = useCallback(
    (g: Gesture, pixel: number) => {
      if (g.kind !== "stroke") return;
      const points = g.stroke.points as Point[];
      const [first, last] = [points[0], points.at(-1)];
      if (!first || !last) return;
      if (kept && isInside(pathOf(kept.nodes), first)) {
        setOffered(undefined);
        change(words.whereTheCoverComesFrom, shiftedBy(kept, first, last, picture), g.done);
      } else if (g.done && points.length > 3) void draw(thinned(points, 2 * pixel), pixel);
    },
    [kept, change, draw, picture],
  );

  return { at, patch, open, change, gesture, findCover, fill, looking, repeats: offered?.list[offered.at]?.repeats ?? false, offered };
}

export type Patching = ReturnType<typeof usePatch>;
