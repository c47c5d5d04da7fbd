import type { View } from "../../api/client";
import * as words from "../../words/bench";

/** Returns the pixels of a view of which a rectangle came, packed without loss: the rest is as it was before. at is the rectangle; empty for all of it. */
export async function canvasOf(at: string, came: Blob, { width, height }: Pick<View, "width" | "height">, before: OffscreenCanvas | undefined): Promise<OffscreenCanvas> {
  const [x = 0, y = 0, w = width, h = height] = at.split(" ").filter(Boolean).map(Number);
  const canvas = new OffscreenCanvas(width, height);
  const g = canvas.getContext("2d");
  if (!g) throw new Error(words.thisBrowserDrawsNoCanvas);
  if (before && (w < width || h < height)) g.drawImage(before, 0, 0);
  if (w > 0) {
    const part = await createImageBitmap(came, { colorSpaceConversion: "none", premultiplyAlpha: "none" });
    g.clearRect(x, y, w, h);
    g.drawImage(part, x, y);
    part.close();
  }
  return canvas;
}
