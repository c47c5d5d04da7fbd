import { useEffect, useLayoutEffect, type RefObject } from "react";

/** Keeps a canvas as large as it is shown, in device pixels, from before anything is asked for; says when it is another size. */
export function useSized(canvas: RefObject<HTMLCanvasElement | null>, onSize: () => void) {
  useLayoutEffect(() => {
    if (canvas.current) sizeTo(canvas.current);
  }, [canvas]);
  useEffect(() => {
    const c = canvas.current;
    if (!c) return;
    const size = new ResizeObserver(([e]) => { if (sizeTo(c, e?.devicePixelContentBoxSize?.[0])) onSize(); });
    size.observe(c);
    return () => size.disconnect();
  }, [canvas, onSize]);
}

/** Sizes it to a box in device pixels, or about, where there is none; says whether it had another size. */
function sizeTo(c: HTMLCanvasElement, box?: ResizeObserverSize) {
  const w = box?.inlineSize ?? Math.round(c.clientWidth * devicePixelRatio);
  const h = box?.blockSize ?? Math.round(c.clientHeight * devicePixelRatio);
  if (w === c.width && h === c.height) return false;
  c.width = w;
  c.height = h;
  return true;
}
