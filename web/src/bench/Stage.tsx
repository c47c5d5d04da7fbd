import { useCallback, useEffect, useImperativeHandle, useRef, useState, type Ref } from "react";
import { firstLookIsOver } from "../firstLook";
import type { Document, Stroke, View } from "../api/client";
import { Chip, Ground, Hint } from "./stageLook";
import { KeyCursor, fromKeys, type Does } from "./keyCursor";
import { Fingers } from "./fingers";
import type { Gesture } from "./isolate/gestures";
import type { Kind } from "./isolate/kinds";
import type { Node } from "./isolate/nodes";
import { clipBefore, dragged, drawCross, drawLine, drawLoupe, hit, loupe, type Compare, type SplitLine } from "./comparing";
import { StageOverlay, type Shapes } from "./StageOverlay";
import { answersWithMask, drawMask, masksShown } from "./quickMask";
import { useSized } from "./useSized";
import { drawPull, drawStroke, drawTip } from "./stageDrawing";
import { StageLayer, overview, visible, type Frame, type Placement } from "./stageLayer";

export type Show = Exclude<View["show"], "before">;
/** What a hand does on the stage: make a pick, take or put something at a point, brush, or nothing but move. */
export type Tool = Kind | "sample" | "match" | "mend" | "away" | "patch" | "pattern" | "push" | "copy" | "grey" | "none";

/** Tools that draw with a round tip, and tools whose drag is a freehand path. */
const tipped = new Set<Tool>(["sweep", "brush", "marks", "mend", "away", "push"]);
const freehand = new Set<Tool>(["sweep", "brush", "marks", "hues", "tones", "depth", "mend", "away", "patch", "pattern", "push", "copy"]);
/** Tools that take one point. */
const points = new Set<Tool>(["sample", "match", "grey"]);
const clicking = new Set<Tool>(["like", "outline"]);

export interface StageHandle {
  fit: () => void;
  zoomTo: (zoom: number) => void;
  zoomBy: (factor: number) => void;
  /** Brings a point of the picture to the middle; without a zoom, at the one that is there. */
  goTo: (x: number, y: number, zoom?: number) => void;
  /**
   * Shows a document while a stroke is drawn, past React: nothing else on the page needs to follow the hand.
   * Without one, the page's own is shown again from its next change on.
   */
  preview: (document?: Document, part?: string) => void;
  /** Asks for what the page is about to show, before anything else of the page follows the hand. */
  ahead: (document: Document, quick: boolean) => void;
  /** The size of the stage in device pixels. */
  size: () => { width: number; height: number };
}

interface Props {
  ref?: Ref<StageHandle>;
  picture: { id: string; width: number; height: number };
  document: Document;
  part?: string;
  show: Show;
  compare: Compare;
  holding: boolean;
  /** What now is laid against instead of the picture as it came in. */
  against?: { document: Document; label: string };
  /** A loupe with before and now follows the pointer. */
  loupe: boolean;
  label: string;
  tool: Tool;
  /** Brush diameter on the screen, in CSS pixels. */
  size: number;
  takeAway: boolean;
  /** Outlines are drawn in one go: a drag is a path, a click a node. */
  byHand: boolean;
  ground: string;
  hint?: React.ReactNode;
  /** The document is one of a hand that is moving: a quick answer will do. */
  quick: boolean;
  overlay: Pick<View, "tint" | "tint_strength" | "ground">;
  /** Whether a hand is moving, so that on a slow line about the right pixels do. */
  moving: boolean;
  /** Whether all of it is shown as the job's inks print it. */
  ink?: Pick<View, "ink" | "ink_marks">;
  shapes: Shapes;
  onNodes: (nodes: Node[], done: boolean, label: string) => void;
  onCloseOutline: () => void;
  onHand?: (which: number | "turn", from: [number, number], to: [number, number], done: boolean) => void;
  onGesture: (g: Gesture) => void;
  onPoint: (x: number, y: number) => void;
  onHover: (at: { x: number; y: number } | undefined) => void;
  onZoom: (percent: number) => void;
  onProblem: (message: string | undefined) => void;
}

/** What now is laid against: the picture as it came in, or in another colourway. V always shows the former. */
const other = (at: Omit<View, "show">, q: Props): View => ({ ...at, ...q.ink, ...(q.against && !q.holding ? { show: "picture", document: q.against.document } : { show: "before" }) });

/** What keys do with the tool at hand. */
const doesWith = (tool: Tool, byHand: boolean): Does => (points.has(tool) || (clicking.has(tool) && !(tool === "outline" && byHand)) ? "clicks" : freehand.has(tool) || tool === "outline" ? "draws" : "moves the picture");

/** The stage shows the real result, exactly, at the zoom it shows; everything it draws comes from the server's core. */
export function Stage(p: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = useRef<Placement & { fitted: boolean }>({ zoom: 0, left: 0, top: 0, fitted: true });
  const layers = useRef<{ now: StageLayer; before: StageLayer; whole: StageLayer; quick: StageLayer; bare: StageLayer; near: [StageLayer, StageLayer] } | undefined>(undefined);
  const props = useRef(p);
  const split = useRef<SplitLine>({ x: 0.45, y: 0.5, angle: 90 });
  const blink = useRef(false);
  const cursor = useRef<{ x: number; y: number } | undefined>(undefined);
  const space = useRef(false);
  const drag = useRef<{ kind: "pan" | "move" | "turn" | "stroke" | "pull"; x: number; y: number; stroke?: Stroke; alt: boolean; shift?: boolean; from?: [number, number]; to?: [number, number]; far?: boolean } | undefined>(undefined);
  const fingers = useRef(new Fingers());
  const keys = useRef<KeyCursor>(undefined);
  const [placement, setPlacement] = useState<Placement>({ zoom: 0, left: 0, top: 0 });
  const lastPoint = useRef<[number, number] | undefined>(undefined);
  const painting = useRef(0);
  const preview = useRef<{ document: Document; part?: string } | undefined>(undefined);
  /** How many frames had come when the stroke began that is answered with masks. */
  const masked = useRef<{ now: number; quick: number } | undefined>(undefined);
  const gliding = useRef(false);
  const still = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(still.current), []);
  const [, setTick] = useState(0);

  /** The part of the canvas that one picture has: all of it, or half in a pair. */
  const pane = () => {
    const c = canvas.current;
    return { width: props.current.compare === "pair" ? Math.floor((c?.width ?? 0) / 2) : (c?.width ?? 0), height: c?.height ?? 0 };
  };

  const paint = useCallback(() => {
    const c = canvas.current;
    const g = c?.getContext("2d");
    const l = layers.current;
    if (!c || !g || !l) return;
    const { zoom, left, top } = view.current;
    const q = props.current;
    g.setTransform(1, 0, 0, 1, 0, 0);
    g.fillStyle = q.ground;
    g.fillRect(0, 0, c.width, c.height);
    const put = (f: Frame | undefined) => {
      if (!f?.bitmap) return;
      g.imageSmoothingEnabled = zoom < 1;
      const x = left + f.x * zoom;
      const y = top + f.y * zoom;
      const w = f.w * zoom;
      const h = f.h * zoom;
      if (Math.abs(w - f.bitmap.width) < 0.01) g.drawImage(f.bitmap, Math.round(x), Math.round(y));
      else g.drawImage(f.bitmap, x, y, w, h);
    };
    const size = pane();
    const k = devicePixelRatio;
    const pairs = q.compare === "pair" ? [[0, l.before.frame], [size.width, q.holding ? l.before.frame : l.now.frame]] as const : [[0, q.holding || (q.compare === "blink" && blink.current) ? l.before.frame : l.now.frame]] as const;
    for (const [x, frame] of pairs) {
      g.save();
      g.beginPath();
      g.rect(x, 0, size.width, size.height);
      g.clip();
      g.translate(x, 0);
      const at = visible(view.current, size, q.picture);
      // Where the frame covers all that is seen of the picture, nothing shows through.
      if (!frame || !at || frame.x > at.x || frame.y > at.y || frame.x + frame.w < at.x + at.w || frame.y + frame.h < at.y + at.h) put(l.whole.frame);
      const quick = frame === l.now.frame && masked.current !== undefined && l.quick.serial > masked.current.quick && (preview.current || l.now.serial === masked.current.now) ? l.quick.frame : undefined;
      if (quick && l.bare.frame) {
        put(l.bare.frame);
        drawMask(g, quick, Math.round(left + quick.x * zoom), Math.round(top + quick.y * zoom), quick.w * zoom, quick.h * zoom, { show: q.show, tint: q.overlay.tint, strength: q.overlay.tint_strength });
      } else put(frame);
      g.restore();
    }
    if (q.compare === "pair") {
      g.fillStyle = "#111";
      g.fillRect(size.width - k, 0, 2 * k, c.height);
    }
    if (!q.holding && q.compare === "split" && l.before.frame) {
      g.save();
      clipBefore(g, split.current, c.width, c.height);
      g.fillRect(0, 0, c.width, c.height);
      put(l.before.frame);
      g.restore();
      drawLine(g, split.current, c.width, c.height, k);
    }
    const at = cursor.current;
    if (at && tipped.has(q.tool) && !space.current && !q.holding) {
      const adds = q.tool === "push" ? undefined : q.takeAway === (drag.current?.alt ?? false);
      for (const x of q.compare === "pair" ? [at.x, at.x + size.width] : [at.x]) drawTip(g, { x, y: at.y }, (q.size / 2) * k, adds);
    }
    const pull = drag.current;
    if (pull?.kind === "pull" && pull.far && pull.from && pull.to) drawPull(g, view.current, pull.from, pull.to, q.tool === "like" ? "box" : "handles", k);
    if (drag.current?.stroke) drawStroke(g, view.current, drag.current.stroke.points, k);
    if (at && keys.current?.at && !tipped.has(q.tool)) drawCross(g, at.x, at.y, k);
    if (q.loupe && at && !q.holding) drawLoupe(g, q.compare === "pair" ? { x: at.x + size.width, y: at.y } : at, c, l.near.map((n) => n.frame), k);
    c.dataset.settled = String(l.now.settled && l.quick.settled);
    if (l.now.serial > 0) firstLookIsOver();
    c.dataset.frames = String(l.now.serial + l.quick.serial);
  }, []);

  const repaint = useCallback(() => {
    if (painting.current) return;
    painting.current = requestAnimationFrame(() => {
      painting.current = 0;
      paint();
    });
  }, [paint]);

  const ask = useCallback(() => {
    const c = canvas.current;
    const l = layers.current;
    const q = props.current;
    if (!c || !l || view.current.zoom === 0) return;
    const at = visible(view.current, pane(), q.picture);
    if (l.now.serial > 0) l.whole.want(overview(q.picture)); // nothing comes before the first frame
    if (at) {
      const p = preview.current;
      if (p && answersWithMask.has(q.tool) && masksShown.has(q.show)) {
        // A hand waits: a small mask is enough, over the picture as it is.
        masked.current ??= { now: l.now.serial, quick: l.quick.serial };
        const k = Math.min(1, c.width / 3 / at.width);
        l.bare.want({ ...at, show: "picture", document: q.document, ...q.ink });
        l.quick.want({ ...at, width: Math.max(1, Math.round(at.width * k)), height: Math.max(1, Math.round(at.height * k)), show: "mask", part: p.part ?? q.part, document: p.document, quick: true });
      } else l.now.want({ ...at, show: q.show, part: p?.part ?? q.part, document: p?.document ?? q.document, ...(p || q.quick ? { quick: true } : {}), ...q.overlay, ...q.ink }, !!p || q.moving || gliding.current);
      if (q.compare !== "now" || q.holding) l.before.want(other(at, q));
    }
    const under = cursor.current;
    if (q.loupe && under) {
      const p = preview.current;
      const n = loupe.pixels;
      const x = Math.floor((under.x - view.current.left) / view.current.zoom - n / 2);
      const y = Math.floor((under.y - view.current.top) / view.current.zoom - n / 2);
      const square = { x, y, w: n, h: n, width: n, height: n };
      l.near[0].want({ ...square, show: "before", ...q.ink });
      l.near[1].want({ ...square, show: "picture", part: q.part, document: p?.document ?? q.document, ...q.ink });
    }
    c.dataset.settled = String(l.now.settled && l.quick.settled);
    repaint();
  }, [repaint]);

  const place = useCallback(
    (next: Placement, fitted: boolean) => {
      view.current = { ...next, left: Math.round(next.left), top: Math.round(next.top), fitted };
      props.current.onZoom(next.zoom * 100);
      setPlacement(view.current);
      // On a slow line what comes meanwhile is about right only: once the picture lies still it is asked for exactly.
      clearTimeout(still.current);
      gliding.current = !fitted;
      if (!fitted) still.current = setTimeout(() => { gliding.current = false; ask(); }, 140);
      ask();
    },
    [ask],
  );

  const fit = useCallback(() => {
    const c = canvas.current;
    if (!c || c.width === 0) return;
    const { width, height } = props.current.picture;
    const pad = 24 * devicePixelRatio;
    const { width: w, height: h } = pane();
    const zoom = Math.min((w - 2 * pad) / width, (h - 2 * pad) / height, 1);
    place({ zoom, left: (w - width * zoom) / 2, top: (h - height * zoom) / 2 }, true);
  }, [place]);

  const zoomAt = useCallback(
    (zoom: number, x: number, y: number) => {
      const v = view.current;
      const z = Math.max(0.01, Math.min(32, zoom));
      place({ zoom: z, left: x - ((x - v.left) * z) / v.zoom, top: y - ((y - v.top) * z) / v.zoom }, false);
    },
    [place],
  );

  const middle = useCallback(() => {
    const { width, height } = pane();
    return cursor.current ?? { x: width / 2, y: height / 2 };
  }, []);

  useImperativeHandle(p.ref, () => ({
    fit,
    zoomTo: (z) => {
      const m = middle();
      zoomAt(z, m.x, m.y);
    },
    zoomBy: (f) => {
      const m = middle();
      zoomAt(view.current.zoom * f, m.x, m.y);
    },
    goTo: (x, y, z) => {
      const c = canvas.current;
      if (!c) return;
      const zoom = z ?? view.current.zoom;
      place({ zoom, left: pane().width / 2 - x * zoom, top: c.height / 2 - y * zoom }, false);
    },
    preview: (document, part) => {
      // What was masked stays so until the exact answer is there, and a stroke that begins before that goes on from it.
      if (document && !preview.current) masked.current = undefined;
      if (!document && masked.current) masked.current.now = layers.current?.now.serial ?? 0;
      preview.current = document && { document, part };
      if (document) ask();
    },
    ahead: (document, quick) => {
      props.current = { ...props.current, document, quick, moving: true };
      ask();
    },
    size: pane,
  }), [fit, zoomAt, middle, place, ask]);

  useEffect(() => {
    const problem = (m: string | undefined) => {
      if (m) firstLookIsOver();
      props.current.onProblem(m);
    };
    const idle = () => {
      // Once at rest, the picture as it came in is made ready, so that holding V shows it at once.
      const c = canvas.current;
      const at = c && visible(view.current, pane(), props.current.picture);
      if (at && layers.current?.now.settled) {
        layers.current.whole.want(overview(props.current.picture));
        layers.current.before.want(other(at, props.current));
      }
      repaint();
    };
    const l = { now: new StageLayer(p.picture.id, idle, problem), before: new StageLayer(p.picture.id, repaint, problem), whole: new StageLayer(p.picture.id, repaint, problem), quick: new StageLayer(p.picture.id, paint, problem, true), bare: new StageLayer(p.picture.id, repaint, problem), near: [new StageLayer(p.picture.id, repaint, problem), new StageLayer(p.picture.id, repaint, problem)] as [StageLayer, StageLayer] };
    layers.current = l;
    return () => {
      layers.current = undefined;
      l.now.close();
      l.before.close();
      l.whole.close();
      l.quick.close();
      l.bare.close();
      l.near.forEach((n) => n.close());
    };
  }, [p.picture.id, repaint, paint]);

  useSized(canvas, useCallback(() => {
    if (view.current.fitted) fit();
    else ask();
    setTick((t) => t + 1);
  }, [fit, ask]));

  useEffect(() => {
    props.current = p;
    ask();
  });

  useEffect(() => {
    const c = canvas.current;
    if (!c) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const k = devicePixelRatio;
      const r = c.getBoundingClientRect();
      if (e.ctrlKey || e.metaKey) zoomAt(view.current.zoom * Math.exp(-e.deltaY * 0.0022), (e.clientX - r.left) * k, (e.clientY - r.top) * k);
      else {
        const [dx, dy] = e.shiftKey && e.deltaX === 0 ? [e.deltaY, 0] : [e.deltaX, e.deltaY];
        place({ ...view.current, left: view.current.left - dx * k, top: view.current.top - dy * k }, false);
      }
    };
    c.addEventListener("wheel", wheel, { passive: false });
    const k = devicePixelRatio;
    keys.current = new KeyCursor(c, (dx, dy) => place({ ...view.current, left: view.current.left + dx * k, top: view.current.top + dy * k }, false));
    const typed = (e: KeyboardEvent) => {
      const q = props.current;
      const arrow = { ArrowLeft: [-0.02, 0, 5], ArrowRight: [0.02, 0, -5], ArrowUp: [0, -0.02, 5], ArrowDown: [0, 0.02, -5] }[e.key];
      if (e.altKey && arrow && q.compare === "split") {
        const [dx = 0, dy = 0, turn = 0] = arrow;
        const s = split.current;
        split.current = e.shiftKey ? { ...s, angle: (s.angle + turn + 180) % 180 } : { ...s, x: Math.max(0.02, Math.min(0.98, s.x + dx)), y: Math.max(0.06, Math.min(0.94, s.y + dy)) };
        repaint();
      } else if (!keys.current?.key(e, doesWith(q.tool, !!q.byHand))) return;
      e.preventDefault();
      e.stopPropagation();
    };
    c.addEventListener("keydown", typed);
    const key = (e: KeyboardEvent) => {
      if (e.code !== "Space" || e.target instanceof HTMLInputElement || e.target instanceof HTMLButtonElement) return;
      e.preventDefault();
      space.current = e.type === "keydown";
      c.style.cursor = space.current ? "grab" : "";
      repaint();
    };
    addEventListener("keydown", key);
    addEventListener("keyup", key);
    return () => {
      c.removeEventListener("wheel", wheel);
      c.removeEventListener("keydown", typed);
      removeEventListener("keydown", key);
      removeEventListener("keyup", key);
    };
  }, [place, zoomAt, repaint]);

  // Where a picture has half the stage or all of it, it is fitted anew.
  const paired = p.compare === "pair";
  useEffect(() => {
    if (view.current.fitted) fit();
  }, [paired, fit]);
  const blinks = p.compare === "blink";
  useEffect(() => {
    if (!blinks) return;
    const t = setInterval(() => {
      blink.current = !blink.current;
      setTick((n) => n + 1);
      repaint();
    }, 700);
    return () => {
      clearInterval(t);
      blink.current = false;
    };
  }, [blinks, repaint]);

  const spot = (e: { clientX: number; clientY: number }) => {
    const r = canvas.current?.getBoundingClientRect();
    const k = devicePixelRatio;
    const half = pane().width;
    const onCanvas = (e.clientX - (r?.left ?? 0)) * k;
    const x = props.current.compare === "pair" && onCanvas >= half ? onCanvas - half : onCanvas;
    const y = (e.clientY - (r?.top ?? 0)) * k;
    const v = view.current;
    return { x, y, px: (x - v.left) / v.zoom, py: (y - v.top) / v.zoom };
  };
  const round = (v: number) => Math.round(v * 10) / 10;
  const copy = (q: Stroke): Stroke => ({ ...q, points: [...q.points], ...(q.pressure ? { pressure: [...q.pressure] } : {}) });

  const pressed = (e: { pointerType: string; pressure: number }) => (e.pointerType === "pen" && p.tool === "brush" ? [Math.max(0.02, Math.round(e.pressure * 100) / 100)] : undefined);

  const breakOff = () => {
    preview.current = undefined; // as if it had not been begun
    ask();
  };
  const down = (e: React.PointerEvent<HTMLCanvasElement>) => {
    e.currentTarget.focus();
    if (e.pointerId !== fromKeys) keys.current?.leave();
    if (e.pointerType === "touch") {
      const { x, y } = spot(e);
      e.currentTarget.setPointerCapture(e.pointerId);
      if (fingers.current.down(e.pointerId, x, y)) {
        if (drag.current?.stroke) breakOff();
        drag.current = undefined;
        return;
      }
    }
    const s = spot(e);
    const c = e.currentTarget;
    const byHand = p.tool === "outline" && p.byHand;
    const works = freehand.has(p.tool) || clicking.has(p.tool);
    const inside = s.px >= 0 && s.py >= 0 && s.px < p.picture.width && s.py < p.picture.height;
    const line = p.compare === "split" ? hit(split.current, c.width, c.height, s.x, s.y, 12 * devicePixelRatio) : undefined;
    const pan = { kind: "pan", x: e.clientX, y: e.clientY, alt: false } as const;
    if (e.button === 1 || space.current) drag.current = pan;
    else if (e.button !== 0) return;
    else if (line) drag.current = { kind: line, x: 0, y: 0, alt: false };
    else if (points.has(p.tool)) {
      if (inside) p.onPoint(s.px, s.py);
      return;
    } else if (!works) drag.current = pan;
    else if (clicking.has(p.tool) && !byHand) {
      if (!inside && p.tool === "like") return;
      const at: [number, number] = [round(s.px), round(s.py)];
      drag.current = { kind: "pull", x: s.x, y: s.y, from: at, to: at, alt: e.altKey, shift: e.shiftKey };
    } else {
      const radius = round((p.size / 2) * (devicePixelRatio / view.current.zoom));
      const here: [number, number] = [round(s.px), round(s.py)];
      const last = e.shiftKey && lastPoint.current && tipped.has(p.tool) ? lastPoint.current : undefined;
      const force = pressed(e.nativeEvent);
      const stroke: Stroke = { radius, points: last ? [last, here] : [here], ...(force ? { pressure: last ? [...force, ...force] : force } : {}) };
      drag.current = { kind: "stroke", x: 0, y: 0, stroke, alt: e.altKey };
      p.onGesture({ kind: "stroke", stroke: copy(stroke), alt: e.altKey, done: false });
    }
    if (e.pointerId !== fromKeys) c.setPointerCapture(e.pointerId);
  };
  const move = (e: React.PointerEvent<HTMLCanvasElement>) => {
    if (e.pointerId !== fromKeys) {
      if (keys.current?.pressing) return; // a hand that brushes the mouse does not bend what keys draw
      keys.current?.leave();
    }
    const s = spot(e);
    if (e.pointerType === "touch") {
      const pinch = fingers.current.move(e.pointerId, s.x, s.y);
      if (pinch) {
        place({ ...view.current, left: view.current.left + pinch.dx, top: view.current.top + pinch.dy }, false);
        zoomAt(view.current.zoom * pinch.apart, pinch.x, pinch.y);
      }
      if (fingers.current.pinching) return;
    }
    cursor.current = { x: s.x, y: s.y };
    const inside = s.px >= 0 && s.py >= 0 && s.px < p.picture.width && s.py < p.picture.height;
    const d = drag.current;
    if (!d?.stroke) p.onHover(inside ? { x: s.px, y: s.py } : undefined);
    if (p.loupe && inside) ask();
    if (d?.kind === "pan") {
      const k = devicePixelRatio;
      place({ ...view.current, left: view.current.left + (e.clientX - d.x) * k, top: view.current.top + (e.clientY - d.y) * k }, false);
      d.x = e.clientX;
      d.y = e.clientY;
    } else if (d?.kind === "move" || d?.kind === "turn") split.current = dragged(split.current, d.kind, e.currentTarget.width, e.currentTarget.height, s.x, s.y);
    else if (d?.kind === "pull") {
      d.to = [round(s.px), round(s.py)];
      d.far ||= Math.hypot(s.x - d.x, s.y - d.y) > 5 * devicePixelRatio;
    } else if (d?.stroke) {
      const far = 1.5 / view.current.zoom;
      let grew = false;
      const together = e.nativeEvent.getCoalescedEvents?.() ?? [];
      for (const ev of together.length > 0 ? together : [e.nativeEvent]) {
        const q = spot(ev);
        const [lx = 0, ly = 0] = d.stroke.points[d.stroke.points.length - 1] ?? [];
        if (Math.hypot(q.px - lx, q.py - ly) < far) continue;
        d.stroke.points.push([round(q.px), round(q.py)]);
        d.stroke.pressure?.push(...(pressed(ev) ?? [1]));
        grew = true;
      }
      if (grew) p.onGesture({ kind: "stroke", stroke: copy(d.stroke), alt: d.alt, done: false });
    }
    repaint();
  };
  const up = (e: React.PointerEvent<HTMLCanvasElement>) => {
    if (e.pointerType === "touch" && fingers.current.up(e.pointerId)) return;
    const d = drag.current;
    drag.current = undefined;
    const done = e.type !== "pointercancel";
    if (d?.stroke) {
      const end = d.stroke.points[d.stroke.points.length - 1];
      lastPoint.current = end as [number, number] | undefined;
      const [[x0 = 0, y0 = 0] = [], ...rest] = d.stroke.points;
      const stayed = rest.every(([x = 0, y = 0]) => Math.hypot(x - x0, y - y0) * view.current.zoom < 5 * devicePixelRatio);
      if (done && p.tool === "outline" && stayed) p.onGesture({ kind: "click", at: [x0, y0], shift: false, alt: d.alt, done });
      else if (done) p.onGesture({ kind: "stroke", stroke: d.stroke, alt: d.alt, done });
      else breakOff();
    } else if (d?.kind === "pull" && d.from && d.to && done) {
      if (d.far) p.onGesture({ kind: "box", from: d.from, to: d.to, shift: !!d.shift, done });
      else p.onGesture({ kind: "click", at: d.from, shift: !!d.shift, alt: d.alt, done });
    }
    repaint();
  };

  const cursorStyle = tipped.has(p.tool) ? "none" : freehand.has(p.tool) || clicking.has(p.tool) || points.has(p.tool) ? "crosshair" : "grab";
  return (
    <Ground style={{ background: p.ground }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        data-stage
        aria-label="Stage: the picture as it is now. Arrows move the tool, Enter presses it"
        style={{ cursor: cursorStyle }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onPointerLeave={() => {
          cursor.current = undefined;
          p.onHover(undefined);
          repaint();
        }}
        onContextMenu={(e) => e.preventDefault()}
      />
      {!p.holding && <StageOverlay {...p.shapes} byHand={p.byHand} placement={paired ? { ...placement, left: placement.left + pane().width } : placement} onNodes={p.onNodes} onClose={p.onCloseOutline} onHand={p.onHand} />}
      {p.holding && <Chip style={{ left: 12 }}>As it came in</Chip>}
      {!p.holding && p.compare === "blink" && <Chip style={{ left: 12 }}>{blink.current ? (p.against?.label ?? "Before") : p.label}</Chip>}
      {!p.holding && (p.compare === "split" || paired) && (
        <>
          <Chip style={{ left: 12 }}>{p.against?.label ?? "Before"}</Chip>
          <Chip style={paired ? { left: "calc(50% + 12px)" } : { right: 12 }}>{p.label}</Chip>
        </>
      )}
      {p.hint && <Hint>{p.hint}</Hint>}
    </Ground>
  );
}

