import { useEffect, useRef, useState } from "react";
import { Problem } from "../api/client";
import { seen } from "../look/seen";

const none = {};

/**
 * Keeps an answer up to date with a key: one question on its way at a time, the newest key next; the last
 * answer stays until the next is there. A question that fails leaves the last answer; while nobody sees the page none is asked. With rest, a key is
 * asked about once it has not changed for that many milliseconds; with ready, the newest one is once that has resolved.
 */
export function useLatest<T>(key: string | undefined, ask: (key: string, signal: AbortSignal) => Promise<T>, rest = 0, ready?: () => Promise<void>): T | undefined {
  return useLatestOf(key, ask, rest, ready).answer;
}

/** The same, with the key that the answer is of: of another one, it tells what was. */
export function useLatestOf<T>(key: string | undefined, ask: (key: string, signal: AbortSignal) => Promise<T>, rest = 0, ready?: () => Promise<void>): { answer?: T; of?: string } {
  const [answer, setAnswer] = useState<{ answer?: T; of?: string }>(none);
  const s = useRef({ key, ask, busy: false, done: "" });
  useEffect(() => {
    const c = s.current;
    return () => {
      c.key = undefined; // nobody looks at the answer any more
    };
  }, []);
  useEffect(() => {
    const c = s.current;
    c.key = key;
    c.ask = ask;
    if (key === undefined || c.busy || c.done === key) return;
    const run = async () => {
      c.busy = true;
      try {
        while (c.key !== undefined && c.key !== c.done) {
          await seen();
          await ready?.();
          const now = c.key;
          if (now === undefined) break; // nobody looks at the answer any more
          try {
            const a = await c.ask(now, AbortSignal.timeout(30000));
            setAnswer({ answer: a, of: now });
          } catch (e) {
            // What is shown stays; the stage says when the server is away. It is asked again until there is an answer.
            if (!(e instanceof Problem && e.status < 500)) {
              await new Promise((r) => setTimeout(r, 1500));
              continue;
            }
          }
          c.done = now;
        }
      } finally {
        c.busy = false;
      }
    };
    if (rest === 0) {
      void run();
      return;
    }
    const t = setTimeout(() => void run(), rest);
    return () => clearTimeout(t);
  }, [key, ask, rest, ready]);
  return key === undefined ? none : answer;
}
