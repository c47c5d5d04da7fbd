import { forwardRef, memo, useCallback, useEffect, useImperativeHandle, useLayoutEffect, useMemo, useRef, useState } from "react";
import styled from "styled-components";
import type { Document, Drawing, ShownDrawing } from "../api/client";
import { firstLookIsOver } from "../firstLook";
import { useStable } from "../look/useStable";
import { Fingers } from "../stage/fingers";
import { Pan, stillWithin } from "../stage/pan";
import { Chip } from "../stage/stageLook";
import { useSteering } from "../stage/useSteering";
import { Viewport, type Placement } from "../stage/viewport";
import { flatBoxes, flatItemAt, flatShown, type Pixels } from "./flat";
import { useLive, type Window } from "./useLive";
import { hiding, itemAt, itemsOf, mount, Painter, type Mounted } from "./page";
import { Whole } from "../look/layout";
import * as words from "../words/drawing";

const Frame = styled.div`
  position: relative;
  overflow: hidden;
  min-width: 0;
  min-height: 0;
  touch-action: none;
  outline: none;
  cursor: crosshair;
  &:focus-visible { box-shadow: inset 0 0 0 2px var(--ink); }
`;
/** The box of a drawing, which nothing of it leaves: whatever its styles say of positions holds inside. */
const Bounds = styled.div`
  position: absolute;
  overflow: hidden;
  contain: strict;
  background: #fff;
`;
const Host = styled.div`
  position: absolute;
  inset: 0;
`;
const Checks = styled.div`
  position: absolute;
  background: repeating-conic-gradient(#ffffff 0 25%, #e2e2e2 0 50%) 0 0 / 16px 16px;
  canvas { display: block; width: 100%; height: 100%; }
`;
const Layer = styled.canvas`
  position: absolute;
  pointer-events: none;
`;
const Over = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
`;
const Bar = styled.i`
  position: absolute;
  top: 0;
  bottom: 0;
  width: 3px;
  margin-left: -1px;
  background: #fff;
  border: 1px solid #141414;
  border-width: 0 1px;
  cursor: ew-resize;
`;

export interface DrawingStageHandle {
  paint: (shown: ShownDrawing) => void;
  /** Says that a document is about to be shown. */
  ahead: (document: Document) => void;
  fit: () => void;
  fitTo: (box: number[]) => void;
  fitPicked: () => void;
  zoomBy: (k: number) => void;
  zoomTo: (z: number) => void;
}

/** How much of the ground is left around the drawing where all of it is shown, in pixels of the page. */
const margin = 24;

interface Props {
  picture: { id: string; width: number };
  drawing: Drawing;
  /** It has so many things that the server renders it. */
  heavy: boolean;
  document: Document;
  /** The part whose colours are being changed. */
  part?: string;
  shown?: ShownDrawing;
  /** Of a flat drawing of pixels. */
  pixels?: Pixels;
  before: boolean;
  split: boolean;
  picked: ReadonlySet<number>;
  hide: boolean;
  ground: string;
  onPick: (item: number, e: { shift: boolean; alt: boolean }) => void;
  onZoom: (z: number) => void;
  onProblem: (message: string | undefined) => void;
}

/** The drawing, live: its own elements, coloured as the document has them. */
export const DrawingStage = memo(forwardRef<DrawingStageHandle, Props>(function DrawingStage(p, ref) {
  const frame = useRef<HTMLDivElement>(null);
  const host = useRef<HTMLDivElement>(null);
  const left = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const beforeCanvas = useRef<HTMLCanvasElement>(null);
  const flat = p.drawing.source === "";
  const made = useRef<{ m: Mounted; painter: Painter } | undefined>(undefined);
  const [place, setPlace] = useState<Placement>();
  const [bar, setBar] = useState(0.5);
  const [boxes, setBoxes] = useState<DOMRect[]>([]);
  const items = useMemo(() => itemsOf(p.drawing), [p.drawing]);
  const [dx = 0, dy = 0, dw = 100, dh = 100] = p.drawing.size;
  const space = useRef(false);
  const { onZoom, onPick } = p;
  const whole = useStable(() => ({ x: dx, y: dy, width: dw, height: dh }));
  const [port] = useState(() => new Viewport(whole, { least: 1e-3, most: 400 }, setPlace));
  const stage = () => ({ width: frame.current?.clientWidth ?? 0, height: frame.current?.clientHeight ?? 0 });
  const fit = useCallback(() => port.fit(stage(), margin), [port]);
  const zoomTo = useCallback((zoom: number) => port.zoomAt(zoom, stage().width / 2, stage().height / 2), [port]);

  const [stageWidth, stageHeight] = [frame.current?.clientWidth ?? 0, frame.current?.clientHeight ?? 0];
  const { heavy } = p;
  const view = useMemo((): Window | undefined => {
    if (!heavy || !place || stageWidth === 0) return undefined;
    const left = Math.max(0, Math.floor(place.left)), top = Math.max(0, Math.floor(place.top));
    const right = Math.min(stageWidth, Math.ceil(place.left + dw * place.zoom)), bottom = Math.min(stageHeight, Math.ceil(place.top + dh * place.zoom));
    if (right <= left || bottom <= top) return undefined;
    const k = p.picture.width / dw / place.zoom; // pixels of the picture a CSS pixel
    return { x: (left - place.left) * k, y: (top - place.top) * k, w: (right - left) * k, h: (bottom - top) * k, width: Math.round((right - left) * devicePixelRatio), height: Math.round((bottom - top) * devicePixelRatio) };
  }, [heavy, place, stageWidth, stageHeight, dw, dh, p.picture.width]);
  const live = useLive({ on: heavy && !p.hide, picture: p.picture.id, document: p.document, part: p.part, window: view, before: p.before, split: p.split, onProblem: p.onProblem });
  // Where the browser paints the drawing itself. One that nobody sees costs it nothing but the room.
  const painted = !heavy || p.hide || (live.failed && !live.shown);
  const over = useMemo(() => {
    if (!live.window || !place) return { display: "none" };
    const k = (dw * place.zoom) / p.picture.width;
    return { left: place.left + live.window.x * k, top: place.top + live.window.y * k, width: live.window.w * k, height: live.window.h * k };
  }, [live.window, place, dw, p.picture.width]);
  const measure = useCallback(() => {
    const f = frame.current?.getBoundingClientRect();
    const m = made.current?.m;
    if (flat && f && place && p.pixels) {
      const k = (dw * place.zoom) / p.pixels.before.width;
      setBoxes(flatBoxes(p.pixels, p.drawing, p.picked).map((b) => new DOMRect(place.left + b.x * k, place.top + b.y * k, b.width * k, b.height * k)));
      return;
    }
    if (!f || !m) return;
    const seen = new Set<number>();
    const out: DOMRect[] = [];
    for (const i of p.picked) {
      const e = p.drawing.items.elements[i] ?? 0;
      if (seen.has(e) || out.length >= 3000) continue;
      seen.add(e);
      const r = m.elements[e]?.getBoundingClientRect();
      if (r && (r.width > 0 || r.height > 0)) out.push(new DOMRect(r.x - f.x, r.y - f.y, r.width, r.height));
    }
    setBoxes(out);
  }, [p.picked, p.drawing, p.pixels, place, flat, dw]);

  const { ahead } = live;
  const paint = useStable((groups: ShownDrawing["groups"]) => { if (painted) made.current?.painter.show(p.before ? [] : groups, p.hide ? hiding(p.drawing, p.picked) : []); });
  useImperativeHandle(ref, () => ({
    paint: (shown) => paint(shown.groups),
    ahead: (document) => { if (heavy) void ahead(document); },
    fit,
    fitTo: ([x = 0, y = 0, width = 1, height = 1]) => port.show({ x, y, width, height }, stage(), margin),
    zoomBy: (k) => zoomTo(port.at.zoom * k),
    zoomTo,
    fitPicked: () => {
      const q = port.at;
      if (boxes.length === 0) return;
      const x0 = Math.min(...boxes.map((b) => b.x)), y0 = Math.min(...boxes.map((b) => b.y)), x1 = Math.max(...boxes.map((b) => b.right)), y1 = Math.max(...boxes.map((b) => b.bottom));
      port.show({ x: dx + (x0 - q.left) / q.zoom, y: dy + (y0 - q.top) / q.zoom, width: (x1 - x0) / q.zoom, height: (y1 - y0) / q.zoom }, stage(), margin);
    },
  }), [fit, zoomTo, port, boxes, dx, dy, paint, ahead, heavy]);

  useEffect(() => {
    const m = flat ? undefined : host.current && mount(host.current, p.drawing);
    made.current = m ? { m, painter: new Painter(m, host.current as HTMLElement) } : undefined;
    fit();
  }, [p.drawing, fit, flat]);
  useEffect(() => {
    const el = frame.current;
    if (!el) return;
    const size = new ResizeObserver(() => { if (port.fitted) fit(); else setPlace((q) => q && { ...q }); });
    size.observe(el);
    return () => size.disconnect();
  }, [fit, port]);
  useEffect(() => {
    if (painted || live.shown) firstLookIsOver();
  }, [painted, live.shown]);
  useEffect(() => {
    if (p.split && left.current) mount(left.current, p.drawing);
  }, [p.split, p.drawing]);
  useEffect(() => {
    const paint = (c: HTMLCanvasElement | null, d: ImageData) => {
      if (!c) return;
      c.width = d.width;
      c.height = d.height;
      c.getContext("2d")?.putImageData(d, 0, 0);
    };
    if (!p.pixels) return;
    paint(canvas.current, flatShown(p.pixels, p.drawing, p.before, p.hide ? p.picked : new Set()));
    if (p.split) paint(beforeCanvas.current, p.pixels.before);
  }, [p.pixels, p.before, p.hide, p.picked, p.split, p.drawing]);
  useEffect(() => {
    paint(p.shown?.groups ?? []);
    if (frame.current) frame.current.dataset.shown = p.before ? "before" : `${flat ? (p.pixels?.now ? 1 : -1) : (p.shown?.groups.length ?? 0)}`;
  }, [p.shown, p.pixels, p.before, p.hide, p.picked, p.drawing, flat, painted, paint]);
  useLayoutEffect(measure, [measure, place]); // before the picture is shown: the boxes come with what the foot says, not a frame later
  useEffect(() => { if (place) onZoom(place.zoom); }, [place, onZoom]);
  useSteering(frame, port, () => 1, (down) => { space.current = down; });

  const fingers = useRef(new Fingers());
  const press = useRef<{ hand: Pan; from: { x: number; y: number }; moved: boolean } | undefined>(undefined);
  const spot = (e: React.PointerEvent) => {
    const f = frame.current?.getBoundingClientRect();
    return { x: e.clientX - (f?.x ?? 0), y: e.clientY - (f?.y ?? 0) };
  };
  const down = (e: React.PointerEvent) => {
    if (e.button > 1) return;
    e.preventDefault();
    frame.current?.focus();
    frame.current?.setPointerCapture(e.pointerId);
    const from = spot(e);
    if (e.pointerType === "touch" && fingers.current.down(e.pointerId, from.x, from.y)) press.current = undefined; // two fingers pick nothing
    else press.current = { hand: new Pan(port, e, 1), from, moved: space.current || e.button === 1 };
  };
  const move = (e: React.PointerEvent) => {
    const at = spot(e);
    const pinch = e.pointerType === "touch" ? fingers.current.move(e.pointerId, at.x, at.y) : undefined;
    if (pinch) port.pinch(pinch);
    const q = press.current;
    if (!q) return;
    q.moved ||= Math.hypot(at.x - q.from.x, at.y - q.from.y) > stillWithin;
    if (q.moved) q.hand.move(e);
  };
  const up = (e: React.PointerEvent) => {
    if (e.pointerType === "touch") fingers.current.up(e.pointerId);
    const q = press.current;
    press.current = undefined;
    if (!q || q.moved || e.type === "pointercancel") return;
    const item = under(e, spot(e));
    if (item !== undefined) onPick(item, { shift: e.shiftKey, alt: e.altKey });
  };
  /** The item at a place, if any. */
  const under = (e: { clientX: number; clientY: number }, at: { x: number; y: number }) => {
    if (made.current && host.current) {
      const { visibility } = host.current.style;
      host.current.style.visibility = ""; // what is hidden is not hit
      const item = itemAt(made.current.m, p.drawing, items, e.clientX, e.clientY);
      host.current.style.visibility = visibility;
      return item;
    }
    if (!p.pixels) return undefined;
    const k = p.pixels.before.width / (dw * port.at.zoom);
    return flatItemAt(p.pixels, p.drawing, (at.x - port.at.left) * k, (at.y - port.at.top) * k);
  };
  const wipe = (e: React.PointerEvent) => {
    e.stopPropagation();
    e.preventDefault();
    const move = (m: PointerEvent) => {
      const f = frame.current?.getBoundingClientRect();
      if (f) setBar(Math.max(0, Math.min(1, (m.clientX - f.x) / f.width)));
    };
    const up = () => {
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", up);
    };
    addEventListener("pointermove", move);
    addEventListener("pointerup", up);
  };
  const box = place && { left: place.left, top: place.top, width: dw * place.zoom, height: dh * place.zoom };
  const width = frame.current?.clientWidth ?? 0;
  const sharp = place && p.pixels && dw * place.zoom * devicePixelRatio >= p.pixels.before.width ? "pixelated" : "auto";
  return (
    <Whole>
    <Frame ref={frame} tabIndex={0} role="application" data-stage aria-label={words.theDrawingClickAShapeTo} data-testid="drawing" data-live={heavy ? `${live.ready} ${live.count}` : undefined} style={{ background: p.ground }} onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerCancel={up} onClickCapture={(e) => e.preventDefault()}>
      {flat ? <Checks style={box ?? { visibility: "hidden" }}><canvas ref={canvas} style={{ imageRendering: sharp }} /></Checks> : (
        <>
          <Bounds style={box ?? { visibility: "hidden" }}><Host ref={host} style={painted ? undefined : { visibility: "hidden" }} /></Bounds>
          {heavy && !painted && <Layer ref={live.canvas} aria-hidden style={over} />}
        </>
      )}
      {p.split && box && (
        <div style={{ position: "absolute", inset: 0, clipPath: `inset(0 ${(1 - bar) * 100}% 0 0)`, background: p.ground, pointerEvents: "none" }}>
          {flat ? <Checks style={box}><canvas ref={beforeCanvas} style={{ imageRendering: sharp }} /></Checks> : heavy ? <><Bounds style={box} /><Layer ref={live.beforeCanvas} aria-hidden style={over} /></> : <Bounds style={box}><Host ref={left} /></Bounds>}
        </div>
      )}
      <Over aria-hidden>
        {boxes.map((b, i) => (
          <g key={i} fill="none">
            <rect x={b.x - 2.5} y={b.y - 2.5} width={b.width + 5} height={b.height + 5} stroke="#fff" strokeWidth="3" />
            <rect x={b.x - 2.5} y={b.y - 2.5} width={b.width + 5} height={b.height + 5} stroke="#141414" strokeWidth="1.200" strokeDasharray="5 3" />
          </g>
        ))}
      </Over>
      {p.split && <><Chip $at={{ right: width - bar * width + 8 }}>{words.before}</Chip><Chip $at={{ left: bar * width + 8 }}>{words.now}</Chip></>}
      {p.split && <Bar style={{ left: bar * width }} onPointerDown={wipe} role="slider" aria-label={words.whereBeforeEnds} aria-valuenow={Math.round(bar * 100)} tabIndex={0} onKeyDown={(e) => { const by = e.key === "ArrowLeft" ? -0.02 : e.key === "ArrowRight" ? 0.02 : 0; if (by) { e.stopPropagation(); setBar((b) => Math.max(0, Math.min(1, b + by))); } }} />}
    </Frame>
    </Whole>
  );
}));
