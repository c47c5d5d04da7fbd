import { useCallback, useRef } from "react";

/** Hands over answers in the order in which they were asked for, however they arrive; one that fails holds none up. */
export function useInTurn() {
  const last = useRef<Promise<unknown>>(Promise.resolve());
  return useCallback(<T>(answer: Promise<T>): Promise<T> => {
    answer.catch(() => undefined); // told in its turn
    const turn = last.current.then(() => answer);
    last.current = turn.catch(() => undefined);
    return turn;
  }, []);
}
