import type { View } from "../../api/client";
import type { Placement } from "../../stage/viewport";

/** The view that covers what is visible of a picture on a canvas, and as much more on each side as a share of the canvas; aligned to device pixels. */
export function visible(p: Placement, canvas: { width: number; height: number }, picture: { width: number; height: number }, more = 0): Omit<View, "show"> | undefined {
  const right = Math.round(p.left + picture.width * p.zoom);
  const bottom = Math.round(p.top + picture.height * p.zoom);
  const [moreX, moreY] = [Math.floor(more * canvas.width), Math.floor(more * canvas.height)];
  let x0 = Math.max(-moreX, p.left);
  let y0 = Math.max(-moreY, p.top);
  let x1 = Math.min(canvas.width + moreX, right);
  let y1 = Math.min(canvas.height + moreY, bottom);
  if (x1 <= x0 || y1 <= y0) return undefined;
  if (p.zoom > 1) {
    // Enlarged: whole picture pixels are asked for and repeated here.
    const a = Math.floor((x0 - p.left) / p.zoom);
    const b = Math.floor((y0 - p.top) / p.zoom);
    const c = Math.min(picture.width, Math.ceil((x1 - p.left) / p.zoom));
    const d = Math.min(picture.height, Math.ceil((y1 - p.top) / p.zoom));
    return { x: a, y: b, w: c - a, h: d - b, width: c - a, height: d - b };
  }
  [x0, y0, x1, y1] = [Math.floor(x0), Math.floor(y0), Math.ceil(x1), Math.ceil(y1)];
  return { x: (x0 - p.left) / p.zoom, y: (y0 - p.top) / p.zoom, w: (x1 - x0) / p.zoom, h: (y1 - y0) / p.zoom, width: x1 - x0, height: y1 - y0 };
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What of a canvas lies around a box: above it, below, left and right, as far as there is any. */
export function around(box: Box, { width, height }: { width: number; height: number }): Box[] {
  const within = (v: number, most: number) => Math.max(0, Math.min(most, v));
  const [x0, y0, x1, y1] = [within(box.x, width), within(box.y, height), within(box.x + Math.max(0, box.width), width), within(box.y + Math.max(0, box.height), height)];
  return [
    { x: 0, y: 0, width, height: y0 },
    { x: 0, y: y1, width, height: height - y1 },
    { x: 0, y: y0, width: x0, height: y1 - y0 },
    { x: x1, y: y0, width: width - x1, height: y1 - y0 },
  ].filter((b) => b.width > 0 && b.height > 0);
}
