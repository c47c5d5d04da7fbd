import type { Stroke } from "../../api/client";
import { stillWithin } from "../../stage/pan";
import type { Placement, Viewport } from "../../stage/viewport";
import type { Gesture } from "../isolate/gestures";
import { drawPull, drawStroke } from "./stageDrawing";

/** A place under the pointer: on one picture's half of the canvas, in its pixels, and in pixels of the picture. */
export interface Spot {
  x: number;
  y: number;
  px: number;
  py: number;
}

/** What a pointer does from when it is pressed until it is lifted. */
export interface Drag {
  /** Alt was held as it began. */
  readonly alt: boolean;
  move: (e: PointerEvent, s: Spot) => void;
  /** Ends it; done is false where it was broken off. */
  end: (done: boolean) => void;
  /** Draws what a hand must see of it meanwhile; k is how many device pixels a pixel of the page has. */
  draw?: (g: CanvasRenderingContext2D, at: Placement, k: number) => void;
}

const round = (v: number) => Math.round(v * 10) / 10;
export const placeOf = (s: Spot): [number, number] => [round(s.px), round(s.py)];

/** Moves or turns the line of a split stage. */
export class LineDrag implements Drag {
  readonly alt = false;
  constructor(private readonly to: (x: number, y: number) => void) {}
  move(_: PointerEvent, s: Spot) {
    this.to(s.x, s.y);
  }
  end() {}
}

/** Pulls a box, or the handles of a node, out of a place; where it does not move it is a click there. */
export class Pull implements Drag {
  private far = false;
  private readonly from: [number, number];
  private to: [number, number];
  constructor(
    private readonly begun: Spot,
    readonly alt: boolean,
    private readonly shift: boolean,
    private readonly as: "box" | "handles",
    private readonly gesture: (g: Gesture) => void,
  ) {
    this.from = this.to = placeOf(begun);
  }
  move(_: PointerEvent, s: Spot) {
    this.to = placeOf(s);
    this.far ||= Math.hypot(s.x - this.begun.x, s.y - this.begun.y) > stillWithin * devicePixelRatio;
  }
  end(done: boolean) {
    if (!done) return;
    if (this.far) this.gesture({ kind: "box", from: this.from, to: this.to, shift: this.shift, done });
    else this.gesture({ kind: "click", at: this.from, shift: this.shift, alt: this.alt, done });
  }
  draw(g: CanvasRenderingContext2D, at: Placement, k: number) {
    if (this.far) drawPull(g, at, this.from, this.to, this.as, k);
  }
}

/** How hard a pen is pressed, as a share; of what does not say so, nothing. */
export type Pressed = (e: { pointerType: string; pressure: number }) => number | undefined;

/** What a stroke needs of the stage. */
export interface Drawing {
  port: Viewport;
  spot: (e: { clientX: number; clientY: number }) => Spot;
  pressed: Pressed;
  gesture: (g: Gesture) => void;
  /** It is as if the stroke had not been begun. */
  broken: () => void;
  /** A stroke that stays where it began is a click. */
  clicks: boolean;
  /** Where it ended, for a straight one from there. */
  ended: (at: [number, number] | undefined) => void;
}

/** Draws a freehand stroke, in pixels of the picture. */
export class Draw implements Drag {
  private readonly stroke: Stroke;
  constructor(
    private readonly o: Drawing,
    e: PointerEvent,
    at: Spot,
    /** Half of the tip, in pixels of the picture. */
    radius: number,
    /** Where a straight piece to here begins. */
    from: [number, number] | undefined,
    readonly alt: boolean,
  ) {
    const force = o.pressed(e);
    const points = from ? [from, placeOf(at)] : [placeOf(at)];
    this.stroke = { radius: round(radius), points, ...(force === undefined ? {} : { pressure: points.map(() => force) }) };
    o.gesture({ kind: "stroke", stroke: this.copy(), alt, done: false });
  }
  move(e: PointerEvent) {
    const far = 1.5 / this.o.port.at.zoom;
    let grew = false;
    const together = e.getCoalescedEvents?.() ?? [];
    for (const ev of together.length > 0 ? together : [e]) {
      const q = this.o.spot(ev);
      const [lx = 0, ly = 0] = this.stroke.points[this.stroke.points.length - 1] ?? [];
      if (Math.hypot(q.px - lx, q.py - ly) < far) continue;
      this.stroke.points.push(placeOf(q));
      this.stroke.pressure?.push(this.o.pressed(ev) ?? 1);
      grew = true;
    }
    if (grew) this.o.gesture({ kind: "stroke", stroke: this.copy(), alt: this.alt, done: false });
  }
  end(done: boolean) {
    const { points } = this.stroke;
    if (!done) {
      this.o.broken();
      return;
    }
    this.o.ended(points[points.length - 1] as [number, number] | undefined);
    const [[x0 = 0, y0 = 0] = [], ...rest] = points;
    const stayed = rest.every(([x = 0, y = 0]) => Math.hypot(x - x0, y - y0) * this.o.port.at.zoom < stillWithin * devicePixelRatio);
    if (this.o.clicks && stayed) this.o.gesture({ kind: "click", at: [x0, y0], shift: false, alt: this.alt, done });
    else this.o.gesture({ kind: "stroke", stroke: this.stroke, alt: this.alt, done });
  }
  draw(g: CanvasRenderingContext2D, at: Placement, k: number) {
    drawStroke(g, at, this.stroke.points, k);
  }
  private copy(): Stroke {
    const { points, pressure } = this.stroke;
    return { ...this.stroke, points: [...points], ...(pressure ? { pressure: [...pressure] } : {}) };
  }
}
