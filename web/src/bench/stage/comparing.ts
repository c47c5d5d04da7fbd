/** How before and after are laid against each other on the stage. */
export type Compare = "now" | "split" | "pair" | "blink";

/** The line of the split: a point it runs through, in shares of the stage, and its angle; 90° is upright. */
export interface SplitLine {
  x: number;
  y: number;
  angle: number;
}

const along = (s: SplitLine): [number, number] => [Math.cos((s.angle * Math.PI) / 180), -Math.sin((s.angle * Math.PI) / 180)];

/** The two ends of the line, far outside a stage of the size. */
export function ends(s: SplitLine, width: number, height: number): [number, number, number, number] {
  const [dx, dy] = along(s);
  const far = width + height;
  return [s.x * width - dx * far, s.y * height - dy * far, s.x * width + dx * far, s.y * height + dy * far];
}

/** What is hit at a point: the knob moves the line, the line itself turns it. */
export function hit(s: SplitLine, width: number, height: number, x: number, y: number, near: number): "move" | "turn" | undefined {
  const [px, py] = [x - s.x * width, y - s.y * height];
  if (Math.hypot(px, py) < near * 1.4) return "move";
  const [dx, dy] = along(s);
  if (Math.abs(px * dy - py * dx) > near) return undefined;
  return Math.hypot(px, py) < Math.min(width, height) * 0.22 ? "move" : "turn";
}

/** The line after a drag to a point. */
export function dragged(s: SplitLine, how: "move" | "turn", width: number, height: number, x: number, y: number): SplitLine {
  if (how === "move") return { ...s, x: Math.max(0.02, Math.min(0.98, x / width)), y: Math.max(0.06, Math.min(0.94, y / height)) };
  const angle = (Math.atan2(s.y * height - y, x - s.x * width) * 180) / Math.PI;
  // Either end may be held; upright and level are caught.
  const a = ((angle % 180) + 180) % 180;
  const caught = [0, 45, 90, 135, 180].find((k) => Math.abs(a - k) < 3);
  return { ...s, angle: caught ?? a };
}

/** Clips a drawing to the side of before: left of an upright line, above a level one. */
export function clipBefore(g: CanvasRenderingContext2D, s: SplitLine, width: number, height: number) {
  const [x0, y0, x1, y1] = ends(s, width, height);
  const far = 2 * (width + height);
  const [dx, dy] = along(s);
  // Left of the way up: the normal that points to smaller x, or to smaller y of a level line.
  const [nx, ny] = Math.abs(dy) > 0.05 ? (dy < 0 ? [dy, -dx] : [-dy, dx]) : [0, -1];
  g.beginPath();
  g.moveTo(x0, y0);
  g.lineTo(x1, y1);
  g.lineTo(x1 + nx * far, y1 + ny * far);
  g.lineTo(x0 + nx * far, y0 + ny * far);
  g.closePath();
  g.clip();
}

/** Draws the line and its knob. */
export function drawLine(g: CanvasRenderingContext2D, s: SplitLine, width: number, height: number, k: number) {
  const [x0, y0, x1, y1] = ends(s, width, height);
  for (const [wide, colour] of [[4, "#111"], [2, "#fff"]] as const) {
    g.strokeStyle = colour;
    g.lineWidth = wide;
    g.beginPath();
    g.moveTo(x0, y0);
    g.lineTo(x1, y1);
    g.stroke();
  }
  g.fillStyle = "#fff";
  g.beginPath();
  g.arc(s.x * width, s.y * height, 12 * k, 0, 2 * Math.PI);
  g.fill();
  g.lineWidth = 1.5 * k;
  g.strokeStyle = "#111";
  g.stroke();
}

/** The loupe shows so many pixels of the picture a side, each so many times as large. */
export const loupe = { pixels: 48, times: 4 };
