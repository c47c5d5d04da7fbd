import type { Drawing } from "../api/client";

/** A flat drawing's pixels as they came in and as they are now, both 8 bit RGBA of one size. */
export interface Pixels {
  before: ImageData;
  now?: ImageData;
}

/** The size at which a flat drawing's pixels are asked for: their own, within what one view may have. */
export function flatSize(width: number, height: number): [number, number] {
  const k = Math.min(1, 4096 / Math.max(width, height));
  return [Math.max(1, Math.round(width * k)), Math.max(1, Math.round(height * k))];
}

const hex = (d: Uint8ClampedArray, i: number) => ((d[i] ?? 0) << 16) | ((d[i + 1] ?? 0) << 8) | (d[i + 2] ?? 0);

function numbers(d: Drawing): number[] {
  return d.colours.map((c) => Number.parseInt(c.slice(1), 16));
}

/** The item under a pixel: its colour, or the one most like it where it is a rim. */
export function flatItemAt(p: Pixels, d: Drawing, x: number, y: number): number | undefined {
  const { width, height, data } = p.before;
  if (x < 0 || y < 0 || x >= width || y >= height) return undefined;
  const i = 4 * (Math.floor(y) * width + Math.floor(x));
  if (data[i + 3] === 0) return undefined;
  const at = hex(data, i);
  let best = 0;
  let least = Infinity;
  numbers(d).forEach((c, k) => {
    const e = ((at >> 16) - (c >> 16)) ** 2 + (((at >> 8) & 255) - ((c >> 8) & 255)) ** 2 + ((at & 255) - (c & 255)) ** 2;
    if (e < least) [least, best] = [e, k];
  });
  return best; // an item for each colour, in their order
}

/** What is shown, with the pixels of some items taken out. */
export function flatShown(p: Pixels, d: Drawing, before: boolean, hidden: ReadonlySet<number>): ImageData {
  const from = before ? p.before : (p.now ?? p.before);
  if (hidden.size === 0) return from;
  const out = new ImageData(new Uint8ClampedArray(from.data), from.width, from.height);
  const gone = new Set([...hidden].map((k) => numbers(d)[k]));
  for (let i = 0; i < out.data.length; i += 4) if (gone.has(hex(p.before.data, i))) out.data[i + 3] = 0;
  return out;
}

/** Boxes around the pixels of items, in pixels. */
export function flatBoxes(p: Pixels, d: Drawing, picked: ReadonlySet<number>): DOMRect[] {
  const of = new Map<number, [number, number, number, number]>();
  const want = new Set([...picked].map((k) => numbers(d)[k]));
  const { width, data } = p.before;
  for (let i = 0; i < data.length; i += 4) {
    const c = hex(data, i);
    if (!want.has(c) || data[i + 3] === 0) continue;
    const x = (i / 4) % width;
    const y = Math.floor(i / 4 / width);
    const b = of.get(c);
    if (!b) of.set(c, [x, y, x, y]);
    else of.set(c, [Math.min(b[0], x), b[1], Math.max(b[2], x), y]);
  }
  return [...of.values()].map(([x0, y0, x1, y1]) => new DOMRect(x0, y0, x1 - x0 + 1, y1 - y0 + 1));
}
