import { useEffect, type RefObject } from "react";
import { useStable } from "../look/useStable";
import type { Viewport } from "./viewport";

/** How much a notch of the wheel zooms. */
const wheelZoom = 0.0022;

/**
 * Moves what a stage shows by the wheel: with ctrl it zooms to the pointer, with Shift it goes sideways. unit is how many pixels of the
 * viewport one of the page is; onSpace hears that Space, which makes of every tool a hand that moves, is held or let go.
 */
export function useSteering(surface: RefObject<HTMLElement | null>, port: Viewport, unit: () => number, onSpace: (down: boolean) => void) {
  const pixels = useStable(unit);
  const space = useStable(onSpace);
  useEffect(() => {
    const el = surface.current;
    if (!el) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const k = pixels();
      const r = el.getBoundingClientRect();
      if (e.ctrlKey || e.metaKey) port.zoomAt(port.at.zoom * Math.exp(-e.deltaY * wheelZoom), (e.clientX - r.left) * k, (e.clientY - r.top) * k);
      else {
        const [dx, dy] = e.shiftKey && e.deltaX === 0 ? [e.deltaY, 0] : [e.deltaX, e.deltaY];
        port.panBy(-dx * k, -dy * k);
      }
    };
    const key = (e: KeyboardEvent) => {
      if (e.code !== "Space" || e.target instanceof HTMLInputElement || e.target instanceof HTMLButtonElement) return;
      e.preventDefault();
      space(e.type === "keydown");
    };
    el.addEventListener("wheel", wheel, { passive: false });
    addEventListener("keydown", key);
    addEventListener("keyup", key);
    return () => {
      el.removeEventListener("wheel", wheel);
      removeEventListener("keydown", key);
      removeEventListener("keyup", key);
    };
  }, [surface, port, pixels, space]);
}
