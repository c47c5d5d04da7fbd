import { useCallback, useEffect, useImperativeHandle, useRef, useState, type Ref } from "react";
import type { Document } from "../../api/client";
import { firstLookIsOver } from "../../firstLook";
import { Fingers } from "../../stage/fingers";
import { Pan } from "../../stage/pan";
import { Chip, Ground, Hint } from "../../stage/stageLook";
import { useSteering } from "../../stage/useSteering";
import type { Placement } from "../../stage/viewport";
import type { Gesture } from "../isolate/gestures";
import type { Node } from "../isolate/nodes";
import { dragged, hit } from "./comparing";
import { Draw, LineDrag, Pull, type Pressed, type Spot } from "./drags";
import { KeyCursor, fromKeys } from "./keyCursor";
import { StagePainter, type Scene } from "./painter";
import { StageOverlay, type Shapes } from "./StageOverlay";
import { clicking, cursorOf, doesWith, freehand, points, tipped } from "./tools";
import { useSized } from "./useSized";
import * as words from "../../words/bench";

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
  /** Asks for what the page is about to show, before anything else of the page follows the hand; done says that the hand rests on it. */
  ahead: (document: Document, quick: boolean, done?: boolean) => void;
  /** The size of the stage in device pixels. */
  size: () => { width: number; height: number };
}

interface Props extends Scene {
  ref?: Ref<StageHandle>;
  label: string;
  /** Outlines are drawn in one go: a drag is a path, a click a node. */
  byHand: boolean;
  hint?: React.ReactNode;
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

/** How long one side is seen while the stage blinks, in milliseconds. */
const blinkEvery = 700;

/** The stage shows the real result, exactly, at the zoom it shows; everything it draws comes from the server's core. */
export function Stage(p: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const props = useRef(p);
  const [placement, setPlacement] = useState<Placement>({ zoom: 0, left: 0, top: 0 });
  const [painter] = useState(() => new StagePainter(p, (at) => {
    props.current.onZoom(at.zoom * 100);
    setPlacement(at);
  }));
  const { port } = painter;
  const fingers = useRef(new Fingers());
  const keys = useRef<KeyCursor>(undefined);
  const lastPoint = useRef<[number, number] | undefined>(undefined);
  const [blinked, setBlinked] = useState(false);
  const [, setTick] = useState(0);

  const middle = useCallback(() => {
    const { width, height } = painter.pane();
    return painter.cursor ?? { x: width / 2, y: height / 2 };
  }, [painter]);
  useImperativeHandle(p.ref, () => ({
    fit: () => painter.fit(),
    zoomTo: (z) => port.zoomAt(z, middle().x, middle().y),
    zoomBy: (f) => port.zoomAt(port.at.zoom * f, middle().x, middle().y),
    goTo: (x, y, z) => port.centre(x, y, painter.pane(), z),
    preview: (document, part) => painter.preview(document, part),
    ahead: (document, quick, done = false) => {
      props.current = { ...props.current, document, quick, moving: !done };
      painter.ahead(document, quick, done);
    },
    size: () => painter.pane(),
  }), [painter, port, middle]);

  useEffect(() => {
    props.current = p;
    painter.follow(p);
  });

  useEffect(() => {
    if (!canvas.current) return;
    return painter.open(canvas.current, (m) => {
      if (m) firstLookIsOver();
      props.current.onProblem(m);
    });
  }, [painter, p.picture.id]);

  useSized(canvas, useCallback(() => {
    painter.resized();
    setTick((t) => t + 1);
  }, [painter]));

  useSteering(canvas, port, () => devicePixelRatio, (down) => {
    painter.space = down;
    if (canvas.current) canvas.current.style.cursor = down ? "grab" : cursorOf(p.tool);
    painter.repaint();
  });

  useEffect(() => {
    const c = canvas.current;
    if (!c) return;
    keys.current = new KeyCursor(c, (dx, dy) => port.panBy(dx * devicePixelRatio, dy * devicePixelRatio));
    const typed = (e: KeyboardEvent) => {
      const q = props.current;
      const arrow = { ArrowLeft: [-0.02, 0, 5], ArrowRight: [0.02, 0, -5], ArrowUp: [0, -0.02, 5], ArrowDown: [0, 0.02, -5] }[e.key];
      if (e.altKey && arrow && q.compare === "split") {
        const [dx = 0, dy = 0, turn = 0] = arrow;
        const s = painter.split;
        painter.split = e.shiftKey ? { ...s, angle: (s.angle + turn + 180) % 180 } : { ...s, x: Math.max(0.02, Math.min(0.98, s.x + dx)), y: Math.max(0.06, Math.min(0.94, s.y + dy)) };
        painter.repaint();
      } else if (!keys.current?.key(e, doesWith(q.tool, q.byHand))) return;
      e.preventDefault();
      e.stopPropagation();
    };
    c.addEventListener("keydown", typed);
    return () => c.removeEventListener("keydown", typed);
  }, [painter, port]);

  // Where a picture has half the stage or all of it, it is fitted anew.
  const paired = p.compare === "pair";
  useEffect(() => {
    if (port.fitted) painter.fit();
  }, [paired, painter, port]);
  const blinks = p.compare === "blink";
  useEffect(() => {
    if (!blinks) return;
    const show = (other: boolean) => {
      painter.blink = other;
      setBlinked(other);
      painter.repaint();
    };
    const t = setInterval(() => show(!painter.blink), blinkEvery);
    return () => {
      clearInterval(t);
      show(false);
    };
  }, [blinks, painter]);

  const spot = (e: { clientX: number; clientY: number }): Spot => {
    const r = canvas.current?.getBoundingClientRect();
    const k = devicePixelRatio;
    const half = painter.pane().width;
    const onCanvas = (e.clientX - (r?.left ?? 0)) * k;
    const x = props.current.compare === "pair" && onCanvas >= half ? onCanvas - half : onCanvas;
    const y = (e.clientY - (r?.top ?? 0)) * k;
    return { x, y, px: (x - port.at.left) / port.at.zoom, py: (y - port.at.top) / port.at.zoom };
  };
  const isInside = (s: Spot) => s.px >= 0 && s.py >= 0 && s.px < p.picture.width && s.py < p.picture.height;
  const pressed: Pressed = (e) => (e.pointerType === "pen" && p.tool === "brush" ? Math.max(0.02, Math.round(e.pressure * 100) / 100) : undefined);
  const drawing = (e: PointerEvent, s: Spot) => {
    const from = e.shiftKey && tipped.has(p.tool) ? lastPoint.current : undefined;
    return new Draw({
      port, spot, pressed,
      gesture: (g) => props.current.onGesture(g),
      broken: () => painter.forget(),
      clicks: p.tool === "outline",
      ended: (at) => { lastPoint.current = at; },
    }, e, s, (p.size / 2) * (devicePixelRatio / port.at.zoom), from, e.altKey);
  };
  /** What a press begins, if anything. */
  const begun = (e: PointerEvent, s: Spot, c: HTMLCanvasElement) => {
    if (e.button === 1 || painter.space) return new Pan(port, e, devicePixelRatio);
    if (e.button !== 0) return undefined;
    const line = p.compare === "split" ? hit(painter.split, c.width, c.height, s.x, s.y, 12 * devicePixelRatio) : undefined;
    if (line) return new LineDrag((x, y) => { painter.split = dragged(painter.split, line, c.width, c.height, x, y); });
    if (points.has(p.tool)) {
      if (isInside(s)) p.onPoint(s.px, s.py);
      return undefined;
    }
    if (clicking.has(p.tool) && !(p.tool === "outline" && p.byHand))
      return isInside(s) || p.tool !== "like" ? new Pull(s, e.altKey, e.shiftKey, p.tool === "like" ? "box" : "handles", (g) => props.current.onGesture(g)) : undefined;
    return freehand.has(p.tool) || clicking.has(p.tool) ? drawing(e, s) : new Pan(port, e, devicePixelRatio);
  };
  const down = (e: React.PointerEvent<HTMLCanvasElement>) => {
    const c = e.currentTarget;
    c.focus();
    if (e.pointerId !== fromKeys) keys.current?.leave();
    const s = spot(e);
    if (e.pointerType === "touch") {
      c.setPointerCapture(e.pointerId);
      if (fingers.current.down(e.pointerId, s.x, s.y)) {
        if (painter.drag instanceof Draw) painter.drag.end(false); // two fingers never draw
        painter.drag = undefined;
        return;
      }
    }
    const drag = begun(e.nativeEvent, s, c);
    if (!drag) return;
    painter.drag = drag;
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
      if (pinch) port.pinch(pinch);
      if (fingers.current.pinching) return;
    }
    painter.cursor = { x: s.x, y: s.y };
    painter.byKeys = keys.current?.at !== undefined;
    if (!(painter.drag instanceof Draw)) p.onHover(isInside(s) ? { x: s.px, y: s.py } : undefined);
    if (p.loupe && isInside(s)) painter.ask();
    painter.drag?.move(e.nativeEvent, s);
    painter.repaint();
  };
  const up = (e: React.PointerEvent<HTMLCanvasElement>) => {
    if (e.pointerType === "touch" && fingers.current.up(e.pointerId)) return;
    const d = painter.drag;
    painter.drag = undefined;
    d?.end(e.type !== "pointercancel");
    painter.repaint();
  };

  return (
    <Ground style={{ background: p.ground }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        data-stage
        aria-label={words.stageThePictureAsItIs}
        style={{ cursor: cursorOf(p.tool) }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onPointerLeave={() => {
          painter.cursor = undefined;
          p.onHover(undefined);
          painter.repaint();
        }}
        onContextMenu={(e) => e.preventDefault()}
      />
      {!p.holding && <StageOverlay {...p.shapes} byHand={p.byHand} placement={paired ? { ...placement, left: placement.left + painter.pane().width } : placement} onNodes={p.onNodes} onClose={p.onCloseOutline} onHand={p.onHand} />}
      {p.holding && <Chip $at="left">{words.asItCameIn}</Chip>}
      {!p.holding && blinks && <Chip $at="left">{blinked ? (p.against?.label ?? words.before) : p.label}</Chip>}
      {!p.holding && (p.compare === "split" || paired) && (
        <>
          <Chip $at="left">{p.against?.label ?? words.before}</Chip>
          <Chip $at={paired ? "middle" : "right"}>{p.label}</Chip>
        </>
      )}
      {p.hint && <Hint>{p.hint}</Hint>}
    </Ground>
  );
}
