import type { Placement } from "../../stage/viewport";

type Line = readonly [number, number];

/** Draws in black and then in white over it, so that it is seen on anything: each of the widths in CSS pixels. */
function outlined(g: CanvasRenderingContext2D, widths: readonly [number, number], path: (extra: number) => void) {
  widths.forEach((width, i) => {
    g.strokeStyle = i === 0 ? "#000" : "#fff";
    g.lineWidth = width;
    g.beginPath();
    path(1 - i);
    g.stroke();
  });
}

/** Draws the round tip of a tool, and in it whether it adds or takes away; undefined for a tool that does neither. */
export function drawTip(g: CanvasRenderingContext2D, at: { x: number; y: number }, radius: number, adds: boolean | undefined) {
  outlined(g, [1, 1], (extra) => g.arc(at.x, at.y, Math.max(1, radius + extra), 0, 2 * Math.PI));
  if (adds === undefined) return;
  g.fillStyle = "#fff";
  g.fillRect(at.x - 5, at.y - 1, 10, 2);
  if (adds) g.fillRect(at.x - 1, at.y - 5, 2, 10);
}

/** Draws what a hand pulls out: a box from corner to corner, or the two handles of a node. Places are in pixels of the picture. */
export function drawPull(g: CanvasRenderingContext2D, { zoom, left, top }: Placement, from: Line, to: Line, as: "box" | "handles", k: number) {
  const [x0, y0, x1, y1] = [left + from[0] * zoom, top + from[1] * zoom, left + to[0] * zoom, top + to[1] * zoom];
  outlined(g, [3 * k, 1.2 * k], () => {
    if (as === "box") g.rect(Math.min(x0, x1), Math.min(y0, y1), Math.abs(x1 - x0), Math.abs(y1 - y0));
    else {
      g.moveTo(2 * x0 - x1, 2 * y0 - y1);
      g.lineTo(x1, y1);
    }
  });
}

/** Draws the line of a stroke under the hand. */
export function drawStroke(g: CanvasRenderingContext2D, { zoom, left, top }: Placement, points: number[][], k: number) {
  if (points.length === 0) return;
  g.strokeStyle = "rgba(255,255,255,.75)";
  g.lineWidth = 1.5 * k;
  g.beginPath();
  points.forEach(([x = 0, y = 0], i) => {
    if (i === 0) g.moveTo(left + x * zoom, top + y * zoom);
    else g.lineTo(left + x * zoom, top + y * zoom);
  });
  g.stroke();
}
