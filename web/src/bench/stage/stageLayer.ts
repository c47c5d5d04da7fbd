import type { View } from "../../api/client";
import { bytesOf, type Answer } from "../../api/bytes";
import { bringing } from "../../api/draft";
import { keyOf } from "../../api/identity";
import { hidden, whenSeen } from "../../look/seen";
import { askedFirst } from "./firstView";
import { line, type Line } from "./line";
import { Seen, type Exact } from "./seen";
import type { Place } from "./strips";
import * as words from "../../words/bench";

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
  /** It has about the right pixels only: the hand was moving and the line is slow. */
  about?: boolean;
}

/** What a layer shall show: everything of a view but the rectangle. */
export type Wanted = Omit<View, "x" | "y" | "w" | "h" | "width" | "height">;

/** All of a picture as it came in, small: what is seen while a hand moves on to where nothing has come yet. */
export function overview(picture: { width: number; height: number }): View {
  const k = Math.min(1, 512 / Math.max(picture.width, picture.height));
  return { x: 0, y: 0, w: picture.width, h: picture.height, width: Math.max(1, Math.round(picture.width * k)), height: Math.max(1, Math.round(picture.height * k)), show: "before" };
}

/** A frame that came without loss: what comes next need be no more than what differs from it. */
interface Kept {
  name: string;
  /** As it came packed, over a slow line. */
  canvas?: OffscreenCanvas;
  /** As it came raw. */
  bytes?: ArrayBuffer;
}

type Pixels = Pick<Frame, "bitmap" | "pixels">;

/** Lays RGBA rows of a rectangle into those of a frame so many pixels wide. */
export function layRows(frame: ArrayBuffer, width: number, rows: ArrayBuffer, { x, y, w, h }: { x: number; y: number; w: number; h: number }) {
  const [to, from] = [new Uint8Array(frame), new Uint8Array(rows)];
  for (let i = 0; i < h; i++) to.set(from.subarray(4 * w * i, 4 * w * (i + 1)), 4 * ((y + i) * width + x));
}

/** Comes after the first frame. */
const strips = () => import("./strips");

interface Wish {
  body: View;
  key: string;
  /** A hand is moving. */
  hand: boolean;
  /** And the line is slow, so that about the right pixels do. */
  moving: boolean;
  /** Of what it is, wherever it lies. */
  of: string;
}

/**
 * Keeps one picture of the stage up to date. One request is on its way at a time, three on a slow line; what changes meanwhile
 * waits as one newest wish, so nothing piles up. The last frame stays until the next is there. On a slow line a moving hand is
 * shown about the right pixels, and the exact ones, packed without loss, once it rests. While nobody sees the page nothing is asked.
 */
export class StageLayer {
  frame: Frame | undefined;
  /** How many frames have come. */
  serial = 0;
  private wish: Wish | undefined;
  /** What is on its way, the newest last. */
  private flying: { key: string; nth: number }[] = [];
  private sent = 0;
  private shown = 0; // the nth that was sent is what is shown
  private away = false;
  private closed = false;
  private kept: Kept | undefined;
  private put: OffscreenCanvas | undefined;
  private spare: ArrayBuffer | undefined; // of the last view, whose pixels are drawn
  /** The last frame with the exact pixels. */
  private exact: Exact | undefined;
  /** More of it than is seen, asked for while nobody waited. */
  private around: Exact | undefined;
  /** What is asked for while nobody waits. */
  private spareTime: AbortController | undefined;
  private readonly seen: Seen;
  private resting: string | undefined; // what was wanted last when no hand was moving
  private made: string | undefined; // what besides a request decides its pixels
  private turn = 0; // how many times that became another
  private retry: ReturnType<typeof setTimeout> | undefined;
  private readonly unseen = whenSeen(() => this.run());

  constructor(
    private readonly picture: string,
    private readonly onFrame: () => void,
    private readonly onProblem: (message: string | undefined) => void,
    /** What comes is read, not drawn as it is. */
    private readonly read = false,
    /** Of so many pixels the frames are remembered that were shown at rest. */
    remembers = 0,
    private readonly over: Line = line(),
  ) {
    this.seen = new Seen(remembers, (f) => f === this.frame || f === this.exact?.frame);
  }

  /** Says what besides a request decides its pixels, once that is known. Where that becomes another, what is shown is asked for anew. */
  under(made: string | undefined) {
    if (made === undefined || made === this.made) return;
    if (this.made !== undefined) {
      this.turn++;
      this.spareTime?.abort();
      this.seen.clear();
      this.surroundedBy(undefined);
    }
    this.made = made;
  }

  private key(body: object) {
    return `${keyOf(body)} ${this.turn}`;
  }

  /** What a view is of, wherever it lies. */
  private anywhere(v: View) {
    return this.key({ ...v, x: 0, y: 0, w: 0, h: 0, width: 0, height: 0 });
  }

  want(body: View, hand = false) {
    const exact = this.key(body);
    if (!hand) this.resting = exact;
    const moving = hand && !this.read && this.over.slow;
    const key = moving ? words.aboutExact(exact) : exact;
    if (this.wish?.key === key) return;
    // What will be shown once nothing is on its way: the newest under way, or else the frame that is there.
    const coming = this.underWay.at(-1)?.key ?? this.frame?.key;
    if (coming === key || coming === exact) {
      this.wish = undefined;
      this.remember();
      return;
    }
    const seen = this.seen.get(exact);
    if (seen) {
      this.wish = undefined;
      this.again(seen);
      return;
    }
    this.wish = { body, key, of: this.anywhere(body), moving, hand };
    this.spareTime?.abort();
    this.run();
  }

  get settled() {
    return this.underWay.length === 0 && !this.away && !this.wish && !this.frame?.about;
  }

  /** What is on its way and will be shown: what was asked for before something that is there already is not. */
  private get underWay() {
    return this.flying.filter((f) => f.nth > this.shown);
  }

  /** Shows a frame that was shown before; what is on its way comes too late. */
  private again(seen: Exact) {
    this.shown = ++this.sent;
    this.leave(seen.frame);
    this.frame = seen.frame;
    this.exact = seen;
    this.serial++;
    this.onProblem(undefined);
    this.onFrame();
  }

  /** Lets go of the frames that are shown, as far as they are not remembered. */
  private leave(next?: Frame) {
    for (const f of new Set([this.frame, this.exact?.frame])) if (f && f !== next && !this.seen.has(f)) f.bitmap?.close();
  }

  /** Begins what is asked for while nobody waits; undefined where now is not the time. It ends where something else is wanted. */
  private whileAtRest(): AbortSignal | undefined {
    if (!this.settled || this.closed || this.over.slow || hidden()) return undefined;
    this.spareTime?.abort();
    this.spareTime = new AbortController();
    return this.spareTime.signal;
  }

  /** Asks for more of what is shown than is seen, for who pans to see it at once: while nothing else is wanted, piece by piece. Tells whether it is there. */
  async surround(body: View): Promise<boolean> {
    const of = this.anywhere(body);
    const signal = this.exact?.of === of ? this.whileAtRest() : undefined;
    if (!signal) return false;
    let last: Promise<unknown> = Promise.resolve();
    const piece = (at: Place) => {
      const got = last.then(async () => (signal.aborted ? undefined : this.piece({ ...body, ...at, ahead: true }, signal)));
      last = got;
      return got;
    };
    const here = await strips().catch(() => undefined); // it is asked for again where it is needed
    if (!here) return false;
    const { panned, hasMost } = here;
    if (this.placesOf(of).some((at) => hasMost(at, body))) return true;
    const bitmap = await panned(this.placesOf(of), body, piece).catch(() => undefined); // whoever pans there asks again
    const { x, y, w, h, width, height } = body;
    if (!bitmap || this.closed || signal.aborted || this.exact?.of !== of) {
      bitmap?.close();
      return false;
    }
    this.surroundedBy({ frame: { bitmap, x, y, w, h, key: "" }, of, size: { width, height } });
    return true;
  }

  /** Asks for looks that may be wanted next, for who flips through them to see each at once: one after the other, while nothing else is wanted. Tells whether they are there. */
  async prepare(bodies: View[]): Promise<boolean> {
    const signal = this.whileAtRest();
    for (const body of bodies) {
      const [key, of] = [this.key(body), this.anywhere(body)];
      if (!signal || signal.aborted) return false;
      if (this.seen.get(key)) continue;
      const bitmap = (await this.whole({ ...body, ahead: true }, signal).catch(() => undefined))?.bitmap;
      if (!bitmap || this.closed || signal.aborted) {
        bitmap?.close();
        return false;
      }
      const { x, y, w, h, width, height } = body;
      this.seen.put(key, { frame: { bitmap, x, y, w, h, key }, of, size: { width, height } });
    }
    return true;
  }

  private surroundedBy(next: Exact | undefined) {
    this.around?.frame.bitmap?.close();
    this.around = next;
  }

  /** The frames that are there with exact pixels of something. */
  private placesOf(of: string) {
    return [this.exact, this.around, ...this.seen.of(of).filter((e) => e.frame !== this.exact?.frame)].flatMap((e) => (e?.of === of && e.frame.bitmap ? [{ ...e.frame, ...e.size, bitmap: e.frame.bitmap }] : []));
  }

  close() {
    this.closed = true;
    this.spareTime?.abort();
    this.surroundedBy(undefined);
    this.unseen();
    clearTimeout(this.retry);
    this.leave();
    this.frame = this.exact = undefined;
    this.seen.clear();
    this.kept = undefined;
  }

  private run() {
    while (this.wish && !this.closed && !this.away && !hidden() && this.flying.length < (this.over.slow && !this.read ? 3 : 1)) {
      const wish = this.wish;
      this.wish = undefined;
      const nth = ++this.sent;
      this.flying.push({ key: wish.key, nth });
      void this.fetch(wish, nth).finally(() => {
        this.flying = this.flying.filter((f) => f.nth !== nth);
        if (this.closed) return;
        this.run();
        this.onFrame(); // a frame came, or whoever waits for rest is told that none does
      });
    }
  }

  /** How the wish goes over the line. */
  private packed({ body: b, moving, hand }: Wish): View {
    const body = hand ? { ...b, hand } : b;
    if (moving) return this.over.moving(body);
    const had = (is: unknown) => (is && this.kept ? { have: this.kept.name } : {});
    if (this.over.slow) return this.read ? { ...body, as: "png" } : { ...body, as: "png", keep: true, ...had(this.kept?.canvas) };
    // What was asked for before there was a stage is asked for in the same words.
    return this.read || this.serial === 0 ? body : { ...body, keep: true, ...had(this.kept?.bytes) };
  }

  private async fetch(wish: Wish, nth: number) {
    try {
      // Nothing is waited for before the request is out: what the page renders meanwhile would come first.
      const got = (this.continues(wish) ? await this.panned(wish) : undefined) ?? (await this.whole(this.packed(wish)));
      if (!got) return;
      if (this.closed || nth < this.shown) {
        got.bitmap?.close();
        return;
      }
      this.shown = nth;
      this.show(got, wish);
      this.onProblem(undefined);
    } catch {
      // The server is away: the newest wish is tried again until it is back.
      if (!this.wish && nth === this.sent) this.wish = wish;
      this.onProblem(words.theServerDoesNotAnswerWhat);
      this.away = true;
      clearTimeout(this.retry);
      this.retry = setTimeout(() => {
        this.away = false;
        this.run();
      }, 1500);
    }
  }

  private show(got: Pixels, { body, key, of, moving }: Wish) {
    const { x, y, w, h, width, height } = body;
    const frame: Frame = { ...got, x, y, w, h, key, ...(moving ? { about: true } : {}) };
    this.serial++;
    if (moving) {
      this.leave(this.exact?.frame);
      this.frame = frame;
      return;
    }
    strips().catch(() => undefined); // it is asked for again where it is needed
    this.leave();
    this.frame = frame;
    this.exact = got.bitmap && { frame, of, size: { width, height } };
    if (this.around?.of !== this.exact?.of) this.surroundedBy(undefined);
    this.remember();
  }

  /** Remembers what is shown, where no hand moves any more and nothing else decides its pixels by now. */
  private remember() {
    const e = this.exact;
    if (e && e.frame === this.frame && e.frame.key === this.resting && !this.seen.has(e.frame)) this.seen.put(e.frame.key, e);
  }

  /** Asks for a view; undefined where the server says what is wrong with it. Nobody waits for one that comes with a signal, and nobody is told. */
  private async whole(body: View, ahead?: AbortSignal): Promise<Pixels | undefined> {
    const had = this.kept;
    const got = await this.answer(body, ahead);
    return got && this.unpack(got, body, had);
  }

  /** Asks for a piece of a view that is put together here. Raw, it is put where it belongs as it is. */
  private async piece(body: View, ahead?: AbortSignal): Promise<Pixels | undefined> {
    const got = await this.answer(body, ahead);
    if (!got || got.response.headers.get("Content-Type")?.startsWith("image/")) return got && this.unpack(got, body, undefined);
    return { pixels: new ImageData(new Uint8ClampedArray(got.bytes), body.width, body.height) };
  }

  private async answer(body: View, ahead: AbortSignal | undefined): Promise<Answer | undefined> {
    const ask = (b: object) => {
      // Bytes that are there; those of what is kept only for what comes in its place.
      const free = this.spare?.byteLength === 4 * body.width * body.height && (body.keep || this.spare !== this.kept?.bytes);
      const spare = free ? this.spare : undefined;
      if (spare) {
        this.spare = undefined;
        if (spare === this.kept?.bytes) this.kept = undefined; // until the answer is there it is neither
      }
      return askedFirst(this.picture, b) ?? bytesOf(`/api/pictures/${this.picture}/view`, b, spare, ahead);
    };
    const { document, ...at } = body;
    const got = await (document ? bringing(this.picture, document, (b) => ask({ ...at, ...b })) : ask(at));
    if (!got.response.ok) {
      if (ahead) return undefined;
      const e = (await new Response(got.bytes).json().catch(() => undefined)) as { message?: string } | undefined;
      this.onProblem(e?.message ?? words.theServerAnsweredStatus(got.response.status));
      return undefined;
    }
    return got;
  }

  /** Whether what is wanted is of what the frame that is there is of, elsewhere. */
  private continues({ of }: Wish) {
    return !this.read && this.exact?.of === of;
  }

  /** What is wanted, from the frames that are there and what they lack, which a hand on a slow line does not ask for; undefined where they have too little of it, or something fails. */
  private async panned(wish: Wish): Promise<Pixels | undefined> {
    const { body, of, hand, moving } = wish;
    const { panned } = await strips();
    if (!this.continues(wish)) return undefined; // another frame came meanwhile
    const bitmap = await panned(this.placesOf(of), body, async (at) => (moving ? undefined : this.piece({ ...body, ...at, hand, ...(this.over.slow ? { as: "png" } : {}) })));
    return bitmap && { bitmap };
  }

  /** Puts pixels where they can be drawn from; createImageBitmap takes longer by what the size of a view takes to be copied once more. */
  private bitmapOf(pixels: ImageData): ImageBitmap {
    const { width, height } = pixels;
    if (this.put?.width !== width || this.put.height !== height) this.put = new OffscreenCanvas(width, height);
    const g = this.put.getContext("2d", { alpha: false });
    if (!g) throw new Error(words.thisBrowserDrawsNoCanvas);
    g.putImageData(pixels, 0, 0);
    return this.put.transferToImageBitmap();
  }

  /** The pixels of an answer. */
  private async unpack({ response, bytes }: Answer, body: View, had: Kept | undefined): Promise<Pixels> {
    const header = (name: string) => response.headers.get(name) ?? "";
    const type = header("Content-Type");
    if (type === "image/jpeg") return { bitmap: await createImageBitmap(new Blob([bytes], { type })) };
    const [x = 0, y = 0, w = body.width, h = body.height] = header("X-Rect").split(" ").filter(Boolean).map(Number);
    const name = header("X-Frame");
    if (!type.startsWith("image/")) {
      const all = had?.bytes && bytes.byteLength < 4 * body.width * body.height ? had.bytes : bytes;
      if (all !== bytes) layRows(all, body.width, bytes, { x, y, w, h });
      const pixels = new ImageData(new Uint8ClampedArray(all), body.width, body.height);
      if (this.read) return { pixels };
      if (all.byteLength >= (this.spare?.byteLength ?? 0)) this.spare = all;
      if (name) this.kept = { name, bytes: all };
      return { bitmap: this.bitmapOf(pixels) };
    }
    const canvas = new OffscreenCanvas(body.width, body.height);
    const g = canvas.getContext("2d");
    if (!g) throw new Error(words.thisBrowserDrawsNoCanvas);
    if (had?.canvas && (w < body.width || h < body.height)) g.drawImage(had.canvas, 0, 0);
    if (w > 0) {
      const part = await createImageBitmap(new Blob([bytes], { type }), { colorSpaceConversion: "none", premultiplyAlpha: "none" });
      g.clearRect(x, y, w, h);
      g.drawImage(part, x, y);
      part.close();
    }
    if (this.read) return { pixels: g.getImageData(0, 0, body.width, body.height) };
    if (name) this.kept = { name, canvas };
    return { bitmap: await createImageBitmap(canvas) };
  }
}
