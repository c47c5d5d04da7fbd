import { useCallback, useRef, useState } from "react";

/** A colour that is dragged by pointer, and what is under it. */
export interface Dragged {
  id: string;
  x: number;
  y: number;
}

/** Drags a palette colour onto whatever carries data-drop; onDrop gets that value. */
export function useColourDrag(onDrop: (colour: string, place: string) => void) {
  const [at, setAt] = useState<Dragged>();
  const from = useRef<{ id: string; x: number; y: number } | undefined>(undefined);
  const start = useCallback((id: string) => (e: React.PointerEvent) => {
    if (e.button !== 0) return;
    e.preventDefault(); // no text is marked on the way
    from.current = { id, x: e.clientX, y: e.clientY };
    const place = (e: PointerEvent) => (document.elementFromPoint(e.clientX, e.clientY)?.closest("[data-drop]") as HTMLElement | null)?.dataset.drop;
    const mark = (to: string | undefined) => document.querySelectorAll("[data-over]").forEach((n) => { if ((n as HTMLElement).dataset.drop !== to) n.removeAttribute("data-over"); });
    const move = (e: PointerEvent) => {
      const f = from.current;
      if (!f || Math.hypot(e.clientX - f.x, e.clientY - f.y) < 5) return;
      e.preventDefault();
      setAt({ id: f.id, x: e.clientX, y: e.clientY });
      const to = place(e);
      mark(to);
      if (to) document.querySelector(`[data-drop="${CSS.escape(to)}"]`)?.setAttribute("data-over", "");
    };
    const up = (e: PointerEvent) => {
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", up);
      removeEventListener("pointercancel", up);
      const f = from.current;
      from.current = undefined;
      const to = e.type === "pointerup" ? place(e) : undefined;
      mark(undefined);
      setAt(undefined);
      if (f && to && Math.hypot(e.clientX - f.x, e.clientY - f.y) >= 5) onDrop(f.id, to);
    };
    addEventListener("pointermove", move);
    addEventListener("pointerup", up);
    addEventListener("pointercancel", up);
  }, [onDrop]);
  return { at, start };
}
