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

/** The strokes with their colours numbered without gaps, and which of the colours those are. What was taken away before anything was drawn is left out. */
export function numbered(strokes: TileStroke[]): { strokes: TileStroke[]; used: number[] } {
  const used = [...new Set(strokes.map((s) => s.figure))].filter((f) => f !== rubOut).sort((a, b) => a - b);
  return { strokes: strokes.map((s) => (s.figure === rubOut ? s : { ...s, figure: used.indexOf(s.figure) })), used };
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
    for (let my = -4; my <= 4; my++)
      for (let mx = -4; mx <= 4; mx++) {
        g.beginPath();
        s.points.forEach((p, i) => {
          const [px, py] = [x + (p[0] ?? 0) * k + mx * side, y + (p[1] ?? 0) * k + my * side];
          if (i === 0) g.moveTo(px, py);
          g.lineTo(px, py);
        });
        g.stroke();
      }
  }
}
