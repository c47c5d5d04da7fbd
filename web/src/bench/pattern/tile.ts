import type { Pattern, Swatch, Target, TileStroke } from "../../api/client";
import { withTaken } from "./patterns";

/** What of a tile is drawn: one of its colours, or nothing, which takes away. */
export const rubOut = -1;

/** Colours to draw a tile with: the pattern's own, then those of the palette that neither it nor its ground has. */
export function drawnWith(p: Pattern | undefined, palette: Swatch[], ground: Target): Target[] {
  const own = p?.colours ?? [];
  const left = palette.filter((c) => c.id !== ground.palette_id && !own.some((t) => t.palette_id === c.id)).map((c) => ({ css: c.css, palette_id: c.id, tolerance: c.tolerance }));
  return [...own, ...left, ...["#f2ece0", "#22252e", "#8a8a8a", "#c9c9c9"].map((css) => ({ css }))].slice(0, 4);
}

/** A stroke with one point more; one that hardly moved is left as it is. Points are thousandths of the tile. */
export function further(s: TileStroke, to: [number, number]): TileStroke {
  const [x, y] = to.map((v) => Math.round(Math.max(-1500, Math.min(2500, v)))) as [number, number];
  const [lastX, lastY] = (s.points.at(-1) ?? to) as [number, number];
  if (s.points.length >= 400 || Math.hypot(x - lastX, y - lastY) < 4) return s;
  return { ...s, points: [...s.points, [x, y]] };
}

/** The pattern with a tile that was drawn by hand, in these colours. */
export const withDrawn = (p: Pattern | undefined, file: string, colours: Target[], width: number): Pattern => ({ ...withTaken(p, { file, colours: colours.map((c) => c.css ?? ""), width: 1, height: 1 }, [], width), colours });

/** By how much what lies at these places, with a reach around each, is moved wherever any of it is seen in 0 to size, repeating every side. */
export function repeats(places: number[], reach: number, side: number, size: number): number[] {
  const [lo, hi] = [Math.min(...places) - reach, Math.max(...places) + reach];
  const first = Math.ceil(-hi / side);
  return Array.from({ length: Math.max(0, Math.floor((size - lo) / side) - first + 1) }, (_, i) => (first + i) * side);
}

/** Draws strokes over and over, a tile side pixels wide whose first corner lies at (x, y). */
export function drawTiles(g: CanvasRenderingContext2D, strokes: TileStroke[], colours: string[], ground: string, side: number, x: number, y: number) {
  const { width, height } = g.canvas;
  g.fillStyle = ground;
  g.fillRect(0, 0, width, height);
  g.lineCap = "round";
  g.lineJoin = "round";
  const k = side / 1000;
  for (const s of strokes) {
    g.strokeStyle = s.figure === rubOut ? ground : (colours[s.figure] ?? ground);
    g.lineWidth = 2 * s.radius * k;
    const shifts = (axis: 0 | 1, at: number, size: number) => repeats(s.points.map((p) => at + (p[axis] ?? 0) * k), s.radius * k, side, size);
    for (const dy of shifts(1, y, height))
      for (const dx of shifts(0, x, width)) {
        g.beginPath();
        s.points.forEach((p, i) => {
          const [px, py] = [x + (p[0] ?? 0) * k + dx, y + (p[1] ?? 0) * k + dy];
          if (i === 0) g.moveTo(px, py);
          g.lineTo(px, py);
        });
        g.stroke();
      }
  }
}
