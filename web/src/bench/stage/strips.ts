import type { View } from "../../api/client";

/** A rectangle of the picture, in its pixels, and how many pixels it is shown with. */
export type Place = Pick<View, "x" | "y" | "w" | "h" | "width" | "height">;

/** What can be taken over from a frame that is there: where it lies in the one that is wanted, and what is missing then. */
export interface Taken {
  dx: number;
  dy: number;
  missing: (Place & { left: number; top: number })[];
}

const lacks = (t: Taken) => t.missing.reduce((n, p) => n + p.width * p.height, 0);

/** From how much of a frame on asking for what is missing does not pay. */
const most = 0.8;

/**
 * Returns what of a wanted view a frame of the same scale has already, where the two lie whole pixels apart: who pans asks for the strip
 * that comes into sight. Undefined where the frame has too little of it.
 */
export function taken(have: Place, want: Place): Taken | undefined {
  const scale = want.w / want.width;
  if (Math.abs(have.w / have.width - scale) > 1e-9 * scale) return undefined;
  const [fx, fy] = [(have.x - want.x) / scale, (have.y - want.y) / scale];
  const [dx, dy] = [Math.round(fx), Math.round(fy)];
  if (Math.abs(fx - dx) > 1e-6 || Math.abs(fy - dy) > 1e-6) return undefined;
  const [x0, x1] = [Math.max(0, dx), Math.min(want.width, dx + have.width)];
  const [y0, y1] = [Math.max(0, dy), Math.min(want.height, dy + have.height)];
  if (x1 <= x0 || y1 <= y0) return undefined;
  const piece = (left: number, top: number, right: number, bottom: number) => ({
    left, top, x: want.x + left * scale, y: want.y + top * scale, w: (right - left) * scale, h: (bottom - top) * scale, width: right - left, height: bottom - top,
  });
  const missing = [piece(0, 0, want.width, y0), piece(0, y1, want.width, want.height), piece(0, y0, x0, y1), piece(x1, y0, want.width, y1)].filter((p) => p.width > 0 && p.height > 0);
  const found = { dx, dy, missing };
  return lacks(found) > most * want.width * want.height ? undefined : found;
}

/** Whether a frame has all but a tenth of a wanted view. */
export function hasMost(have: Place, want: Place): boolean {
  const over = taken(have, want);
  return over !== undefined && lacks(over) <= 0.1 * want.width * want.height;
}

/** What of a wanted view lies in which of the frames that are there, from where in it; and what lies in none. */
interface Laid {
  there: { of: number; fromX: number; fromY: number; left: number; top: number; width: number; height: number }[];
  missing: Taken["missing"];
}

/** Returns of what a wanted view can be laid: of the frame that has most of it, and of others what that one lacks. */
export function laid(have: Place[], want: Place, but: number[] = []): Laid {
  const [best] = have.flatMap((at, of) => { const over = but.includes(of) ? undefined : taken(at, want); return over ? [{ of, at, over }] : []; }).sort((a, b) => lacks(a.over) - lacks(b.over));
  if (!best) return { there: [], missing: [{ ...want, left: 0, top: 0 }] };
  const { of, at, over: { dx, dy, missing } } = best;
  const [left, top] = [Math.max(0, dx), Math.max(0, dy)];
  const [width, height] = [Math.min(want.width, dx + at.width) - left, Math.min(want.height, dy + at.height) - top];
  const rest = missing.map(({ left: x, top: y, ...piece }) => {
    const r = laid(have, piece, [...but, of]);
    const within = <T extends { left: number; top: number }>(p: T) => ({ ...p, left: p.left + x, top: p.top + y });
    return { there: r.there.map(within), missing: r.missing.map(within) };
  });
  return { there: [{ of, fromX: left - dx, fromY: top - dy, left, top, width, height }, ...rest.flatMap((r) => r.there)], missing: rest.flatMap((r) => r.missing) };
}

/** Pixels that come, as what can be drawn or as they are. */
export interface Piece {
  bitmap?: ImageBitmap;
  pixels?: ImageData;
}

/**
 * Returns the picture of a wanted view, made of the frames that are there and of what is asked for besides; undefined where they have too
 * little of it, or something fails.
 */
export async function panned(have: (Place & { bitmap: ImageBitmap })[], want: Place, ask: (at: Place) => Promise<Piece | undefined>): Promise<ImageBitmap | undefined> {
  const { there, missing } = laid(have, want);
  if (there.length === 0) return undefined;
  // What is there is taken over while the rest comes.
  const asked = missing.map(({ left, top, ...at }) => ({ left, top, piece: ask(at) }));
  const canvas = new OffscreenCanvas(want.width, want.height);
  const g = canvas.getContext("2d");
  for (const t of there) {
    const bitmap = have[t.of]?.bitmap;
    if (bitmap) g?.drawImage(bitmap, t.fromX, t.fromY, t.width, t.height, t.left, t.top, t.width, t.height);
  }
  const came = await Promise.all(asked.map(async ({ left, top, piece }) => {
    const got = await piece;
    if (got?.pixels) g?.putImageData(got.pixels, left, top);
    else if (got?.bitmap) g?.drawImage(got.bitmap, left, top);
    got?.bitmap?.close();
    return !!got;
  }));
  return g && came.every(Boolean) ? canvas.transferToImageBitmap() : undefined;
}
