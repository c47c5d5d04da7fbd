import { useCallback, useLayoutEffect, useRef } from "react";

/** A function that stays the same while what it does follows the last render: for what is memoised by its handlers. */
export function useStable<A extends unknown[], R>(f: (...a: A) => R): (...a: A) => R {
  const last = useRef(f);
  useLayoutEffect(() => {
    last.current = f;
  });
  return useCallback((...a: A) => last.current(...a), []);
}
