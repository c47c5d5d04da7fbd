import type { Document, View } from "../../api/client";
import { keyOf, same } from "../../api/identity";
import { firstLookIsOver } from "../../firstLook";
import { stageIs } from "../../stage/quiet";
import { Viewport, type Placement, type Size } from "../../stage/viewport";
import { clipBefore, drawLine, loupe, type Compare, type SplitLine } from "./comparing";
import type { Drag } from "./drags";
import { drawTip } from "./stageDrawing";
import { fitting } from "./firstView";
import { Lead } from "./lead";
import { StageLayer, overview, type Frame } from "./stageLayer";
import { around, visible } from "./visible";
import { tipped, type Tool } from "./tools";

export type Show = Exclude<View["show"], "before">;

/** All that is to be seen on the stage. */
export interface Scene {
  picture: { id: string; width: number; height: number };
  document: Document;
  /** The colourway that it is in. */
  way: string;
  /** The picture in the colourways that somebody who flips through them comes to next. */
  beside: () => Document[];
  part?: string;
  show: Show;
  compare: Compare;
  /** The picture as it came in is shown for as long as a key is held. */
  holding: boolean;
  /** What now is laid against instead of the picture as it came in. */
  against?: { document: Document; label: string };
  /** A loupe with before and now follows the pointer. */
  loupe: boolean;
  tool: Tool;
  /** Brush diameter on the screen, in CSS pixels. */
  size: number;
  takeAway: boolean;
  ground: string;
  /** The document is one of a hand that is moving: a quick answer will do. */
  quick: boolean;
  overlay: Pick<View, "tint" | "tint_strength" | "ground">;
  /** Whether a hand is moving, so that on a slow line about the right pixels do. */
  moving: boolean;
  /** What besides the document decides its pixels, once that is known. */
  made?: string;
  /** Whether all of it is shown as the job's inks print it. */
  ink?: Pick<View, "ink" | "ink_marks">;
}

interface Layers {
  now: StageLayer;
  before: StageLayer;
  /** All of it, small: under what has not come yet. */
  whole: StageLayer;
  /** The mask alone, small, while a stroke is drawn. */
  quick: StageLayer;
  /** The picture that such a mask is laid over. */
  bare: StageLayer;
  /** Before and now in the loupe. */
  near: [StageLayer, StageLayer];
}

const all = (l: Layers) => [l.now, l.before, l.whole, l.quick, l.bare, ...l.near];

/** What now is laid against: the picture as it came in, or in another colourway. V always shows the former. */
const other = (at: Omit<View, "show">, q: Scene): View => ({ ...at, ...q.ink, ...(q.against && !q.holding ? { show: "picture", document: q.against.document } : { show: "before" }) });

/** Tools whose strokes are answered with a small mask, laid over the picture here, while the hand is moving. */
const answersWithMask = new Set(["sweep"]);

/** Shows for which that is enough. */
const masksShown = new Set(["hatch", "tint", "mask"]);

/** Of how many pixels the looks are remembered that were shown lately: 32 MB. */
const remembered = 8e6;

/** How much more than is seen is asked for on each side once who pans rests, as a share of the stage; of large stages less. */
const wider = ({ width, height }: Size) => Math.max(0, Math.min(0.5, (Math.sqrt(remembered / (width * height)) - 1) / 2));

/** How long the picture lies still after a pan before it is asked for exactly, in milliseconds. */
const restAfter = 140;

/** What is drawn of a scene besides the frames that come: while that stays, so does the canvas. (Each time it is drawn costs 5 to 10 ms, in three processes.) */
const drawn = ({ picture, show, compare, holding, loupe, tool, size, takeAway, ground, overlay }: Scene) => [picture.id, picture.width, picture.height, show, compare, holding, loupe, tool, size, takeAway, ground, overlay];

/** Asks for what is seen of a scene, and draws what has come of it. */
export class StagePainter {
  readonly port: Viewport;
  split: SplitLine = { x: 0.45, y: 0.5, angle: 90 };
  /** Blinking shows the other side just now. */
  blink = false;
  /** Where the pointer is, in pixels of one picture's half of the canvas. */
  cursor: { x: number; y: number } | undefined;
  /** Keys lead the pointer, so that it is drawn. */
  byKeys = false;
  space = false;
  drag: Drag | undefined;
  private canvas: HTMLCanvasElement | undefined;
  private layers: Layers | undefined;
  private painting = 0;
  private previewing: { document: Document; part?: string } | undefined;
  /** How many frames had come when the stroke began that is answered with masks. */
  private masked: { now: number; quick: number } | undefined;
  private gliding = false;
  /** Who looks around moved the picture last, and nothing else. */
  private roams = false;
  /** Somebody flipped through colourways, and has changed nothing since. */
  private flips = false;
  /** What was made ready last, or is being made so. */
  private readied: string | undefined;
  private readonly lead = new Lead<Scene>();
  /** What the page showed last; the stage may be ahead of it. */
  private page: Scene;
  /** Draws under the hand; comes after the first frame. */
  private afterwards: typeof import("./afterwards") | undefined;
  private still: ReturnType<typeof setTimeout> | undefined;
  private calm: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private scene: Scene,
    private readonly placed: (at: Placement) => void,
  ) {
    this.page = scene;
    this.port = new Viewport(() => ({ x: 0, y: 0, ...this.scene.picture }), { least: 0.01, most: 32, whole: true }, (at) => this.moved(at));
  }

  /** Begins on a canvas; the function that is returned ends it. */
  open(canvas: HTMLCanvasElement, problem: (message: string | undefined) => void): () => void {
    const { id } = this.scene.picture;
    const repaint = () => this.repaint();
    const layer = (heard: () => void, reads = false, remembers = 0) => new StageLayer(id, heard, problem, reads, remembers);
    // What hides beneath may wait for the next time the screen is drawn.
    const l: Layers = { now: layer(() => this.heard(), false, remembered), before: layer(() => { repaint(); this.rest(); }), whole: layer(repaint), quick: layer(() => this.paint(), true), bare: layer(repaint), near: [layer(repaint), layer(repaint)] };
    this.canvas = canvas;
    this.layers = l;
    all(l).forEach((q) => q.under(this.scene.made));
    this.ask();
    return () => {
      this.layers = undefined;
      clearTimeout(this.still);
      clearTimeout(this.calm);
      stageIs(true);
      all(l).forEach((q) => q.close());
    };
  }

  /** The part of the canvas that one picture has: all of it, or half in a pair. */
  pane(): Size {
    const { width = 0, height = 0 } = this.canvas ?? {};
    return { width: this.scene.compare === "pair" ? Math.floor(width / 2) : width, height };
  }

  fit() {
    if (this.canvas && this.canvas.width > 0) this.port.fit(this.pane(), fitting.margin * devicePixelRatio, fitting.most);
  }

  /** The canvas has another size, or a picture another share of it. */
  resized() {
    if (this.port.fitted) this.fit();
    else this.ask();
  }

  follow(scene: Scene) {
    if (scene.document !== this.page.document) this.roams = this.flips = false;
    if (scene.way !== this.page.way) this.flips = true;
    this.page = scene;
    const was = this.scene;
    this.scene = this.lead.follow(scene);
    if (this.layers) all(this.layers).forEach((q) => q.under(scene.made));
    this.ask(!same(drawn(was), drawn(this.scene)));
  }

  /** Follows a document before the page does: under a hand that moves, or one that has done with it. */
  ahead(document: Document, quick: boolean, done = false) {
    for (const moving of done ? [true, false] : [true]) {
      this.scene = this.lead.ahead(this.scene, { document, quick, moving });
      this.ask(false);
    }
  }

  /** Shows a document while a stroke is drawn; without one, the page's own is shown again from its next change on. */
  preview(document?: Document, part?: string) {
    // What was masked stays so until the exact answer is there, and a stroke that begins before that goes on from it.
    if (document && !this.previewing) this.masked = undefined;
    if (!document && this.masked) this.masked.now = this.layers?.now.serial ?? 0;
    this.previewing = document && { document, part };
    if (document) this.ask();
  }

  /** Takes a stroke back that was broken off. */
  forget() {
    this.previewing = undefined;
    this.ask();
  }

  private moved(at: Placement) {
    this.placed(at);
    // On a slow line what comes meanwhile is about right only: once the picture lies still it is asked for exactly.
    clearTimeout(this.still);
    this.gliding = this.roams = !this.port.fitted;
    if (this.gliding) {
      this.still = setTimeout(() => {
        this.gliding = false;
        this.ask();
      }, restAfter);
    }
    this.ask();
  }

  /** A frame came, or none is to come: it is painted at once, for the next time the screen is drawn. */
  private heard() {
    this.paint();
    if (!this.afterwards) import("./afterwards").then((m) => { this.afterwards = m; }, () => undefined); // the next frame asks again
    this.rest();
  }

  private rest() {
    clearTimeout(this.calm);
    if (this.layers?.now.settled) this.calm = setTimeout(() => this.idle(), restAfter);
  }

  /** Once at rest, the picture as it came in is made ready, so that holding V shows it at once; and what comes next of who looks around, or flips. */
  private idle() {
    const [l, q] = [this.layers, this.scene];
    const at = this.canvas && visible(this.port.at, this.pane(), q.picture);
    if (!at || !l?.now.settled) return;
    l.whole.want(overview(q.picture));
    l.before.want(other(at, q));
    if (!this.previewing) void this.ready(l, at);
  }

  private async ready(l: Layers, at: Omit<View, "show">) {
    const [q, size] = [this.scene, this.pane()];
    const what = keyOf([this.now(at), q.compare, q.made, this.roams, this.flips]);
    if (this.readied === what) return; // or it is being made so
    this.readied = what;
    const more = this.roams && visible(this.port.at, size, q.picture, wider(size));
    let there = true;
    if (more) {
      const before = q.compare === "now" || l.before.surround(other(more, q));
      there = (await l.now.surround(this.now(more))) && (await before);
    }
    const room = Math.floor(remembered / (at.width * at.height)) - 2; // for what is shown, and what was before
    if (there && this.flips && room > 0) there = await l.now.prepare(q.beside().slice(0, room).map((document) => ({ ...this.now(at), document })));
    if (!there && this.readied === what) this.readied = undefined; // something else was wanted: once more at the next rest
  }

  /** What is to be seen of a place. */
  private now(at: Omit<View, "show">): View {
    const [q, p] = [this.scene, this.previewing];
    return { ...at, show: q.show, part: p?.part ?? q.part, document: p?.document ?? q.document, ...(p || q.quick ? { quick: true } : {}), ...q.overlay, ...q.ink };
  }

  /** Asks for what is seen and not there. What comes is drawn; what is there is drawn anew where that changes anything. */
  ask(changes = true) {
    const [c, l, q] = [this.canvas, this.layers, this.scene];
    if (!c || !l || this.port.at.zoom === 0) return;
    const at = visible(this.port.at, this.pane(), q.picture);
    if (l.now.serial > 0) l.whole.want(overview(q.picture)); // nothing comes before the first frame
    const p = this.previewing;
    if (at) {
      if (p && answersWithMask.has(q.tool) && masksShown.has(q.show)) {
        // A hand waits: a small mask is enough, over the picture as it is.
        this.masked ??= { now: l.now.serial, quick: l.quick.serial };
        const k = Math.min(1, c.width / 3 / at.width);
        l.bare.want({ ...at, show: "picture", document: q.document, ...q.ink });
        l.quick.want({ ...at, width: Math.max(1, Math.round(at.width * k)), height: Math.max(1, Math.round(at.height * k)), show: "mask", part: p.part ?? q.part, document: p.document, quick: true });
      } else l.now.want(this.now(at), !!p || q.moving || this.gliding);
      if (q.compare !== "now" || q.holding) l.before.want(other(at, q));
    }
    if (q.loupe && this.cursor) {
      const n = loupe.pixels;
      const x = Math.floor((this.cursor.x - this.port.at.left) / this.port.at.zoom - n / 2);
      const y = Math.floor((this.cursor.y - this.port.at.top) / this.port.at.zoom - n / 2);
      const square = { x, y, w: n, h: n, width: n, height: n };
      l.near[0].want({ ...square, show: "before", ...q.ink });
      l.near[1].want({ ...square, show: "picture", part: q.part, document: p?.document ?? q.document, ...q.ink });
    }
    this.tell(c, l);
    if (changes) this.repaint();
  }

  private tell(c: HTMLCanvasElement, l: Layers) {
    const settled = l.now.settled && l.quick.settled;
    c.dataset.settled = String(settled);
    stageIs(settled);
  }

  repaint() {
    this.painting ||= requestAnimationFrame(() => this.paint());
  }

  private paint() {
    cancelAnimationFrame(this.painting);
    this.painting = 0;
    const [c, l, q] = [this.canvas, this.layers, this.scene];
    const g = c?.getContext("2d", { alpha: false });
    if (!c || !g || !l) return;
    g.setTransform(1, 0, 0, 1, 0, 0);
    g.fillStyle = q.ground;
    g.fillRect(0, 0, c.width, c.height);
    const size = this.pane();
    const k = devicePixelRatio;
    if (q.compare === "pair") {
      this.paintSide(g, l, l.before.frame, 0, size);
      this.paintSide(g, l, q.holding ? l.before.frame : l.now.frame, size.width, size);
      g.fillStyle = "#111";
      g.fillRect(size.width - k, 0, 2 * k, c.height);
    } else this.paintSide(g, l, q.holding || (q.compare === "blink" && this.blink) ? l.before.frame : l.now.frame, 0, size);
    if (!q.holding && q.compare === "split" && l.before.frame) {
      g.save();
      clipBefore(g, this.split, c.width, c.height);
      g.fillRect(0, 0, c.width, c.height);
      this.put(g, l.before.frame);
      g.restore();
      drawLine(g, this.split, c.width, c.height, k);
    }
    this.paintHand(g, l, c, size, k);
    this.tell(c, l);
    if (l.now.serial > 0) firstLookIsOver();
    c.dataset.frames = String(l.now.serial + l.quick.serial);
  }

  /** Draws a frame where it lies. */
  private put(g: CanvasRenderingContext2D, f: Frame | undefined) {
    if (!f?.bitmap) return;
    const { zoom, left, top } = this.port.at;
    g.imageSmoothingEnabled = zoom < 1;
    const [x, y, w, h] = [left + f.x * zoom, top + f.y * zoom, f.w * zoom, f.h * zoom];
    if (Math.abs(w - f.bitmap.width) < 0.01) g.drawImage(f.bitmap, Math.round(x), Math.round(y));
    else g.drawImage(f.bitmap, x, y, w, h);
  }

  /** The pixels of the pane that a frame covers wholly. */
  private covered(f: Frame) {
    const { zoom, left, top } = this.port.at;
    const [x, y] = [Math.ceil(left + f.x * zoom), Math.ceil(top + f.y * zoom)];
    return { x, y, width: Math.floor(left + (f.x + f.w) * zoom) - x, height: Math.floor(top + (f.y + f.h) * zoom) - y };
  }

  /** Draws one picture's share of the canvas, from x on. */
  private paintSide(g: CanvasRenderingContext2D, l: Layers, frame: Frame | undefined, x: number, size: Size) {
    const q = this.scene;
    const { zoom, left, top } = this.port.at;
    g.save();
    g.beginPath();
    g.rect(x, 0, size.width, size.height);
    g.clip();
    g.translate(x, 0);
    const at = visible(this.port.at, size, q.picture);
    // Where the frame lies nothing shows through, and to scale takes its time.
    if (!frame) this.put(g, l.whole.frame);
    else if (!at || frame.x > at.x || frame.y > at.y || frame.x + frame.w < at.x + at.w || frame.y + frame.h < at.y + at.h)
      for (const b of around(this.covered(frame), size)) {
        g.save();
        g.beginPath();
        g.rect(b.x, b.y, b.width, b.height);
        g.clip();
        this.put(g, l.whole.frame);
        g.restore();
      }
    const masked = this.masked;
    const quick = frame === l.now.frame && masked !== undefined && l.quick.serial > masked.quick && (this.previewing || l.now.serial === masked.now) ? l.quick.frame : undefined;
    if (quick && l.bare.frame) {
      this.put(g, l.bare.frame);
      this.afterwards?.drawMask(g, quick, Math.round(left + quick.x * zoom), Math.round(top + quick.y * zoom), quick.w * zoom, quick.h * zoom, { show: q.show, tint: q.overlay.tint, strength: q.overlay.tint_strength });
    } else this.put(g, frame);
    g.restore();
  }

  /** Draws what is under the hand: the tip of the tool, what is being drawn, the loupe. */
  private paintHand(g: CanvasRenderingContext2D, l: Layers, c: HTMLCanvasElement, size: Size, k: number) {
    const q = this.scene;
    const at = this.cursor;
    if (at && tipped.has(q.tool) && !this.space && !q.holding) {
      const adds = q.tool === "push" ? undefined : q.takeAway === (this.drag?.alt ?? false);
      for (const x of q.compare === "pair" ? [at.x, at.x + size.width] : [at.x]) drawTip(g, { x, y: at.y }, (q.size / 2) * k, adds);
    }
    this.drag?.draw?.(g, this.port.at, k);
    if (at && this.byKeys && !tipped.has(q.tool)) this.afterwards?.drawCross(g, at.x, at.y, k);
    if (q.loupe && at && !q.holding) this.afterwards?.drawLoupe(g, q.compare === "pair" ? { x: at.x + size.width, y: at.y } : at, c, l.near.map((n) => n.frame), k);
  }
}
