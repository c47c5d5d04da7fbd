import { useEffect, useRef, type RefObject } from "react";
import { useStable } from "./useStable";

/** How long keys rest before what they did is one step, in milliseconds. */
export const keysRest = 500;

/** Hands a value on once nothing has come for a while: what hands do in quick succession is one step. */
export function useStep<T>(row: RefObject<Element | null>, done: (v: T) => void) {
  const waiting = useRef<{ value: T; timer: ReturnType<typeof setTimeout> } | undefined>(undefined);
  const drop = () => {
    const w = waiting.current;
    if (w) clearTimeout(w.timer);
    waiting.current = undefined;
    return w !== undefined;
  };
  const now = () => {
    const w = waiting.current;
    if (drop() && w) done(w.value);
  };
  const latest = useStable(now);
  useEffect(() => {
    // Undo, another tool, another page: whatever else is done is done after it.
    const other = (e: KeyboardEvent) => { if (!/^(Arrow|Page|Home|End|Shift)/.test(e.key)) latest(); };
    const elsewhere = (e: PointerEvent) => { if (!row.current?.contains(e.target as Node)) latest(); };
    addEventListener("keydown", other, true);
    addEventListener("pointerdown", elsewhere, true);
    return () => {
      removeEventListener("keydown", other, true);
      removeEventListener("pointerdown", elsewhere, true);
      latest();
    };
  }, [row, latest]);
  const after = (value: T, ms: number) => {
    drop();
    if (ms === 0) done(value);
    else waiting.current = { value, timer: setTimeout(latest, ms) };
  };
  return { after, now: latest, drop };
}
