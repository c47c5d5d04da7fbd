/** Whether nobody sees the page now: its tab lies behind another, or its window is put away. */
export const hidden = (): boolean => typeof document !== "undefined" && document.visibilityState === "hidden";

/** Calls back each time the page is seen again, until what it returns is called. */
export function whenSeen(does: () => void): () => void {
  if (typeof document === "undefined") return () => undefined;
  const look = () => { if (!hidden()) does(); };
  document.addEventListener("visibilitychange", look);
  return () => document.removeEventListener("visibilitychange", look);
}

/** Waits until the page is seen; at once where it is. */
export const seen = (): Promise<void> =>
  new Promise((resolve) => {
    if (!hidden()) {
      resolve();
      return;
    }
    const stop = whenSeen(() => { stop(); resolve(); });
  });
