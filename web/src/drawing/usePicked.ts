import { useMemo, useState } from "react";
import { api, explain, unwrap, type Drawing } from "../api/client";

/** What of a thing is picked: what fills it, what its lines have, or both. */
export type Prop = "" | "fill" | "stroke";

/** How a colour is picked: Shift adds to what is picked, Alt takes from it. */
export interface How {
  shift: boolean;
  alt: boolean;
}

const alone: How = { shift: false, alt: false };

/** What of a drawing is picked: all that has a colour, or about it, on all of its boards or one. */
export function usePicked(id: string, d: Drawing | undefined, onProblem: (message: string | undefined) => void) {
  const [items, setItems] = useState<ReadonlySet<number>>(new Set());
  const [last, setLast] = useState<string>(); // the colour that was clicked last
  const [tolerance, setTolerance] = useState(0);
  const [prop, setProp] = useState<Prop>("");
  const [board, setBoard] = useState("");
  const ask = async (colour: string, how: How, to: { tolerance: number; prop: Prop; board: string }) => {
    try {
      const r = await unwrap(api.POST("/api/pictures/{picture}/drawing/pick", { params: { path: { picture: id } }, body: { colour, tolerance: to.tolerance, ...(to.prop ? { prop: to.prop } : {}), ...(to.board ? { boards: [to.board] } : {}) } }));
      setItems((was) => {
        if (how.alt) return new Set([...was].filter((i) => !r.items.includes(i)));
        return new Set(how.shift ? [...was, ...r.items] : r.items);
      });
      onProblem(undefined);
    } catch (e) {
      onProblem(explain(e));
    }
  };
  const now = { tolerance, prop, board };
  /** Picks the last colour again, under other conditions. */
  const again = (change: Partial<typeof now>) => {
    if (last) void ask(last, alone, { ...now, ...change });
  };
  const colours = useMemo(() => [...new Set([...items].map((i) => d?.colours[d.items.colours[i] ?? 0] ?? ""))].filter(Boolean), [items, d]);
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
      void ask(colour, how, { ...now, tolerance: within });
    },
    set: setItems,
    clear: () => setItems(new Set()),
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
