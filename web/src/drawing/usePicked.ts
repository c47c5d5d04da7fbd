import { useMemo, useRef, useState } from "react";
import { api, explain, unwrap, type Drawing } from "../api/client";
import { useInTurn } from "../look/useInTurn";

/** What of a thing is picked: what fills it, what its lines have, or both. */
export type Prop = "" | "fill" | "stroke";

/** How a colour is picked: Shift adds to what is picked, Alt takes from it. */
export interface How {
  shift: boolean;
  alt: boolean;
}

const alone: How = { shift: false, alt: false };

/** The colours that some of a drawing's items have, each once. */
const coloursOf = (items: ReadonlySet<number>, d: Drawing | undefined) => [...new Set([...items].map((i) => d?.colours[d.items.colours[i] ?? 0] ?? ""))].filter(Boolean);

/** What of a drawing is picked: all that has a colour, or about it, on all of its boards or one. */
export function usePicked(id: string, d: Drawing | undefined, onProblem: (message: string | undefined) => void) {
  const [items, setItems] = useState<ReadonlySet<number>>(new Set());
  // What is picked once all answers under way are there, and what ends those that a newer wish makes needless.
  const held = useRef({ items, asking: new AbortController(), last: Promise.resolve() });
  const inTurn = useInTurn();
  const [last, setLast] = useState<string>(); // the colour that was clicked last
  const [tolerance, setTolerance] = useState(0);
  const [prop, setProp] = useState<Prop>("");
  const [board, setBoard] = useState("");
  const hold = (next: ReadonlySet<number>) => {
    held.current.items = next;
    setItems(next);
  };
  /** Ends what is under way: what it would pick is no longer wanted. */
  const instead = () => {
    held.current.asking.abort();
    held.current.asking = new AbortController();
  };
  const ask = (colour: string, how: How, to: { tolerance: number; prop: Prop; board: string }) => {
    if (!how.shift && !how.alt) instead();
    const { signal } = held.current.asking;
    const answer = inTurn(unwrap(api.POST("/api/pictures/{picture}/drawing/pick", { params: { path: { picture: id } }, body: { colour, tolerance: to.tolerance, ...(to.prop ? { prop: to.prop } : {}), ...(to.board ? { boards: [to.board] } : {}) }, signal })));
    held.current.last = answer.then(
      (r) => {
        if (signal.aborted) return;
        const was = [...held.current.items];
        if (how.alt) hold(new Set(was.filter((i) => !r.items.includes(i))));
        else hold(new Set(how.shift ? [...was, ...r.items] : r.items));
        onProblem(undefined);
      },
      (e: unknown) => {
        if (!signal.aborted) onProblem(explain(e));
      },
    );
  };
  const now = { tolerance, prop, board };
  /** Picks the last colour again, under other conditions. */
  const again = (change: Partial<typeof now>) => {
    if (last) ask(last, alone, { ...now, ...change });
  };
  const colours = useMemo(() => coloursOf(items, d), [items, d]);
  const things = useMemo(() => new Set([...items].map((i) => d?.items.elements[i])).size, [items, d]);
  return {
    items,
    colours,
    /** How many things there are with something picked of them. */
    things,
    tolerance,
    prop,
    board,
    pick: (colour: string, how: How = alone, within = tolerance) => {
      setLast(colour);
      ask(colour, how, { ...now, tolerance: within });
    },
    set: (next: ReadonlySet<number>) => {
      instead();
      hold(next);
    },
    clear: () => {
      instead();
      hold(new Set());
    },
    /** The colours that are picked once every pick under way has its answer. */
    coming: async () => {
      for (let now; now !== held.current.last; ) {
        now = held.current.last;
        await now;
      }
      return coloursOf(held.current.items, d);
    },
    within: (t: number) => {
      setTolerance(t);
      again({ tolerance: t });
    },
    of: (p: Prop) => {
      setProp(p);
      again({ prop: p });
    },
    on: (b: string) => {
      setBoard(b);
      again({ board: b });
    },
  };
}

export type Picked = ReturnType<typeof usePicked>;
