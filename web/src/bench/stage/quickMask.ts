import type { Frame } from "./stageLayer";

/** How a mask is shown over the picture: as the server does it for a view at rest. */
export interface MaskLook {
  show: string;
  tint?: string;
  strength?: number;
}

/** The last mask as it lies over a picture: many paints have the same. */
let drawn: { canvas: OffscreenCanvas; image: ImageData; frame: Frame; look: string } | undefined;

/** Opacities, of 256, with which what is not selected is greyed, and the hatch's lines over it: as the server has them. */
const pale = 146;
const grey = 50;

/** Writes how a mask lies over a picture of another size: as a veil over what is not selected, with a line along the edge. */
export function veil(mask: ImageData, out: ImageData, look: MaskLook) {
  const { width: mw, height: mh, data: values } = mask;
  const { width: w, height: h } = out;
  const to = new Int32Array(out.data.buffer);
  const rgb = Number.parseInt((look.tint ?? "#d0021b").slice(1, 7), 16);
  const tint = ((rgb & 255) << 16) | (rgb & 0xff00) | (rgb >> 16);
  const strength = Math.round((look.strength ?? 0.5) * 256);
  const hatched = look.show === "hatch";
  const at = new Int32Array(w);
  const part = new Int32Array(w);
  for (let x = 0; x < w; x++) {
    const f = Math.max(0, Math.min(mw - 1, ((x + 0.5) * mw) / w - 0.5));
    at[x] = Math.min(mw - 2, Math.floor(f));
    part[x] = Math.round(256 * (f - (at[x] as number)));
  }
  const row = new Int32Array(mw + 1);
  const above = new Uint8Array(w);
  for (let y = 0; y < h; y++) {
    const f = Math.max(0, Math.min(mh - 1, ((y + 0.5) * mh) / h - 0.5));
    const top = Math.floor(f);
    const low = Math.min(mh - 1, top + 1);
    const t = Math.round(256 * (f - top));
    for (let x = 0; x < mw; x++) row[x] = (values[4 * (top * mw + x)] as number) * (256 - t) + (values[4 * (low * mw + x)] as number) * t;
    row[mw] = row[mw - 1] as number;
    let before = 2;
    for (let x = 0, line = y % 9, i = y * w; x < w; x++, i++) {
      const k = Math.max(0, at[x] as number);
      const p = part[x] as number;
      const v = ((row[k] as number) * (256 - p) + (row[k + 1] as number) * p) >> 16;
      if (look.show === "mask") {
        to[i] = 0xff000000 | (v * 0x010101);
        continue;
      }
      const away = 255 - v;
      to[i] = hatched ? (line < 2 ? (((away * pale) >> 8) << 24) | 0xd9d9d9 : (((away * grey) >> 8) << 24) | 0x606060) : (((away * strength) >> 8) << 24) | tint;
      const side = v >= 128 ? 1 : 0;
      if (before !== 2 && before !== side) {
        to[i] = side ? -1 : 0xff000000;
        to[i - 1] = side ? 0xff000000 : -1;
      }
      if (y > 0 && above[x] !== side) {
        to[i] = side ? -1 : 0xff000000;
        to[i - w] = side ? 0xff000000 : -1;
      }
      before = side;
      above[x] = side;
      if (++line === 9) line = 0;
    }
  }
}

/** Draws a small mask over a picture whose rectangle on the canvas is given, as a view at rest would show it. */
export function drawMask(g: CanvasRenderingContext2D, frame: Frame, x: number, y: number, w: number, h: number, look: MaskLook) {
  const { pixels } = frame;
  if (!pixels) return;
  const [sw, sh] = [Math.max(1, Math.ceil(w)), Math.max(1, Math.ceil(h))];
  const key = JSON.stringify([look, sw, sh]);
  if (drawn?.frame !== frame || drawn.look !== key) {
    const fits = drawn?.canvas.width === sw && drawn.canvas.height === sh;
    const canvas = fits && drawn ? drawn.canvas : new OffscreenCanvas(sw, sh);
    const image = fits && drawn ? drawn.image : new ImageData(sw, sh);
    veil(pixels, image, look);
    canvas.getContext("2d")?.putImageData(image, 0, 0);
    drawn = { canvas, image, frame, look: key };
  }
  g.drawImage(drawn.canvas, x, y);
}
