import type { View } from "../api/client";
import { bringing } from "../api/draft";
import { keyOf } from "../api/identity";

/** Where the picture lies on the stage: device pixels a picture pixel, and the device pixel of its corner. */
export interface Placement {
  zoom: number;
  left: number;
  top: number;
}

export interface Frame {
  bitmap?: ImageBitmap;
  /** Of what is read here and not drawn as it is: RGBA rows. */
  pixels?: ImageData;
  /** The rectangle of the picture it shows, in picture pixels. */
  x: number;
  y: number;
  w: number;
  h: number;
  key: string;
}

/** What a layer shall show: everything of a view but the rectangle. */
export type Wanted = Omit<View, "x" | "y" | "w" | "h" | "width" | "height">;

/** The view that covers what is visible of a picture on a canvas, aligned to device pixels. */
export function visible(p: Placement, canvas: { width: number; height: number }, picture: { width: number; height: number }): Omit<View, "show"> | undefined {
  const right = Math.round(p.left + picture.width * p.zoom);
  const bottom = Math.round(p.top + picture.height * p.zoom);
  let x0 = Math.max(0, p.left);
  let y0 = Math.max(0, p.top);
  let x1 = Math.min(canvas.width, right);
  let y1 = Math.min(canvas.height, bottom);
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

/**
 * Keeps one picture of the stage up to date. One request is on its way at a time; what changes meanwhile
 * waits as one newest wish, so nothing piles up. The last frame stays until the next is there.
 */
export class StageLayer {
  frame: Frame | undefined;
  /** How many frames have come. */
  serial = 0;
  private wish: { body: View; key: string } | undefined;
  private flying: string | undefined;
  private busy = false;
  private closed = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly picture: string,
    private readonly onFrame: () => void,
    private readonly onProblem: (message: string | undefined) => void,
    /** What comes is read, not drawn as it is. */
    private readonly read = false,
  ) {}

  want(body: View) {
    const key = keyOf(body);
    if (this.wish?.key === key) return;
    // What will be shown once nothing is on its way: the frame under way, or else the one that is there.
    if ((this.flying ?? this.frame?.key) === key) {
      this.wish = undefined;
      return;
    }
    this.wish = { body, key };
    void this.run();
  }

  get settled() {
    return !this.busy && !this.wish;
  }

  close() {
    this.closed = true;
    clearTimeout(this.retry);
    this.frame?.bitmap?.close();
  }

  private async run() {
    if (this.busy || this.closed) return;
    this.busy = true;
    try {
      while (this.wish && !this.closed) {
        const { body, key } = this.wish;
        this.wish = undefined;
        this.flying = key;
        try {
          const ask = async (b: object) => ({ response: await fetch(`/api/pictures/${this.picture}/view`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(b) }) });
          const { document, ...at } = body;
          const { response: r } = await (document ? bringing(this.picture, document, (b) => ask({ ...at, ...b })) : ask(at));
          if (!r.ok) {
            const e = (await r.json().catch(() => undefined)) as { message?: string } | undefined;
            this.onProblem(e?.message ?? `the server answered ${r.status}`);
            this.flying = undefined;
            continue;
          }
          const pixels = new ImageData(new Uint8ClampedArray(await r.arrayBuffer()), body.width, body.height);
          const bitmap = this.read ? undefined : await createImageBitmap(pixels);
          this.frame?.bitmap?.close();
          if (this.closed) {
            bitmap?.close();
            return;
          }
          this.serial++;
          this.frame = { ...(bitmap ? { bitmap } : { pixels }), x: body.x, y: body.y, w: body.w, h: body.h, key };
          this.flying = undefined;
          this.onProblem(undefined);
          this.onFrame();
        } catch {
          // The server is away: the newest wish is tried again until it is back.
          if (!this.wish) this.wish = { body, key };
          this.onProblem("the server does not answer; what is shown may be old");
          this.retry = setTimeout(() => void this.run(), 1500);
          return;
        }
      }
    } finally {
      this.flying = undefined;
      this.busy = false;
      if (!this.closed) this.onFrame(); // also where no frame came: whoever waits for rest is told
    }
  }
}
