import * as words from "../../words/bench";
import { loupe } from "./comparing";

/** Draws before and now of the loupe's square beside the pointer. */
export function drawLoupe(g: CanvasRenderingContext2D, at: { x: number; y: number }, stage: { width: number; height: number }, frames: ({ bitmap?: ImageBitmap } | undefined)[], k: number) {
  const side = loupe.pixels * loupe.times;
  const wide = 2 * side + 3 * k;
  const x = at.x + 24 * k + wide < stage.width ? at.x + 24 * k : Math.max(0, at.x - 24 * k - wide);
  const y = Math.max(0, Math.min(stage.height - side, at.y - side - 24 * k));
  g.fillStyle = "#111";
  g.fillRect(x - 3 * k, y - 3 * k, wide + 6 * k, side + 6 * k);
  g.fillStyle = "#fff";
  g.fillRect(x - 1.5 * k, y - 1.5 * k, wide + 3 * k, side + 3 * k);
  g.imageSmoothingEnabled = false;
  frames.forEach((f, i) => {
    const left = x + i * (side + 3 * k);
    g.fillStyle = "#8a8a8a";
    g.fillRect(left, y, side, side);
    if (f?.bitmap) g.drawImage(f.bitmap, left, y, side, side);
    g.fillStyle = "rgba(20,20,20,.8)";
    g.font = `${11 * k}px sans-serif`;
    const word = i === 0 ? words.before : words.now;
    g.fillRect(left, y + side - 17 * k, g.measureText(word).width + 10 * k, 17 * k);
    g.fillStyle = "#fff";
    g.fillText(word, left + 5 * k, y + side - 5 * k);
  });
}

/** Draws where the keys' pointer is, for tools that have no tip of their own. */
export function drawCross(g: CanvasRenderingContext2D, x: number, y: number, k: number) {
  for (const [wide, colour] of [[4, "#000"], [2, "#fff"]] as const) {
    g.strokeStyle = colour;
    g.lineWidth = wide * k;
    g.beginPath();
    for (const [dx, dy] of [[1, 0], [0, 1], [-1, 0], [0, -1]] as const) {
      g.moveTo(x + 4 * dx * k, y + 4 * dy * k);
      g.lineTo(x + 14 * dx * k, y + 14 * dy * k);
    }
    g.stroke();
  }
}
