import { useRef, useState } from "react";
import styled from "styled-components";
import type { Curves } from "../../api/client";
import { Segmented } from "../../look/controls";
import { Toggle } from "../../look/Toggle";
import { keysRest, useStep } from "../../look/useStep";
import { Field, Small } from "../../look/Field";
import * as words from "../../words/colour";

type Channel = "all" | "red" | "green" | "blue";
type Point = [number, number];

const Graph = styled.svg`
  width: 100%;
  height: 164px;
  display: block;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: #fff;
  touch-action: none;
  .bar { fill: #d2d2d2; }
  .grid { stroke: var(--rule); stroke-width: 1; }
  .line { fill: none; stroke: var(--ink); stroke-width: 1.6; vector-effect: non-scaling-stroke; }
  circle { fill: #fff; stroke: var(--ink); stroke-width: 1.4; }
  circle:focus-visible { fill: var(--ink); outline: none; }
`;
const Ends = styled.div`
  display: flex;
  justify-content: space-between;
  color: var(--ink3);
  font-size: 12px;
`;

/** Where each curve acts: down on the left, up on the right. */
const opposites: Record<Channel, [string, string]> = { all: [words.darker, words.lighter], red: [words.toCyanDarker, words.toRedLighter], green: [words.toMagenta, words.toGreen], blue: [words.toYellow, words.toBlue] };

const W = 255;
const H = 150;

const write = (p: Point[]) => p.map(([x, y]) => `${Math.round(x * 255)} ${Math.round(y * 255)}`).join(", ");

function read(text: string): Point[] | undefined {
  if (!text.trim()) return [];
  const out: Point[] = [];
  for (const part of text.split(/[,;]/)) {
    const [x, y, more] = part.trim().split(/\s+/).map(Number);
    if (x === undefined || y === undefined || more !== undefined || !(x >= 0 && x <= 255 && y >= 0 && y <= 255) || out.some((q) => q[0] === x / 255)) return undefined;
    out.push([x / 255, y / 255]);
  }
  return out.sort((a, b) => a[0] - b[0]);
}

/** The monotone cubic that the core bends by (Fritsch and Carlson, 1980), as an SVG path. */
function drawn(p: Point[]): string {
  const n = p.length;
  const at = (i: number): Point => p[i] ?? [0, 0];
  const chord = p.slice(1).map((q, i) => (q[1] - at(i)[1]) / (q[0] - at(i)[0]));
  const slope = p.map((_, i) => {
    const [a, b] = [chord[i - 1], chord[i]];
    if (a === undefined || b === undefined) return a ?? b ?? 0;
    return a * b > 0 ? (a + b) / 2 : 0;
  });
  chord.forEach((c, i) => {
    const [a, b] = [c ? (slope[i] ?? 0) / c : 0, c ? (slope[i + 1] ?? 0) / c : 0];
    const t = Math.min(1, 3 / (Math.hypot(a, b) || 1));
    slope[i] = t * a * c;
    slope[i + 1] = t * b * c;
  });
  const put = (x: number, y: number) => `${(x * W).toFixed(2)} ${(H - y * H).toFixed(2)}`;
  let path = n > 0 ? `M${put(...at(0))}` : "";
  for (let i = 1; i < n; i++) {
    const [[x0, y0], [x1, y1]] = [at(i - 1), at(i)];
    const h = (x1 - x0) / 3;
    path += `C${put(x0 + h, y0 + h * (slope[i - 1] ?? 0))} ${put(x1 - h, y1 - h * (slope[i] ?? 0))} ${put(x1, y1)}`;
  }
  return path;
}

/** A curve over the coded values: press to add a point and drag it, double-click or Delete takes it out. */
export function CurveEditor(p: { curves: Curves; values?: number[]; onDrag: (c: Curves) => void; onRest: (label: string, c: Curves) => void }) {
  const [channel, setChannel] = useState<Channel>("all");
  const [bad, setBad] = useState(false);
  const drag = useRef<{ i: number; points: Point[]; added: boolean; moved: boolean } | undefined>(undefined);
  const graph = useRef<SVGSVGElement>(null);
  // Arrows are one step until they rest.
  const keys = useStep<Curves>(graph, (c) => p.onRest(words.moveAPoint, c));
  const points = (p.curves[channel] ?? []) as Point[];
  const put = (next: Point[]): Curves => ({ ...p.curves, [channel]: next.length ? next : undefined });
  const spot = (e: React.PointerEvent<SVGElement>): Point => {
    const r = (e.currentTarget.ownerSVGElement ?? (e.currentTarget as unknown as SVGSVGElement)).getBoundingClientRect();
    return [Math.max(0, Math.min(1, (e.clientX - r.left) / r.width)), Math.max(0, Math.min(1, 1 - (e.clientY - r.top) / r.height))];
  };
  const moved = (i: number, to: Point, list: Point[]): Point[] => {
    const lo = (list[i - 1]?.[0] ?? (p.curves.free ? -0.01 : 0)) + 0.01;
    const hi = (list[i + 1]?.[0] ?? (p.curves.free ? 1.01 : 1)) - 0.01;
    return list.map((q, k) => (k === i ? [Math.max(lo, Math.min(hi, to[0])), to[1]] : q));
  };
  const ends: Point[] = p.curves.free && points.length > 0 ? points : [[0, 0], ...points, [1, 1]];
  const d = drawn(ends);
  const [down, up] = opposites[channel];
  const of = ["all", "red", "green", "blue"].indexOf(channel);
  const bars = (p.values ?? []).slice(of * 64, of * 64 + 64);
  return (
    <>
      <div><Segmented small label={words.channel} value={channel} onChange={(c) => { setChannel(c); setBad(false); }} options={[["all", words.all], ["red", words.red], ["green", words.green], ["blue", words.blue]]} /></div>
      <Graph
        viewBox={`0 0 ${W} ${H}`}
        preserveAspectRatio="none"
        role="group"
        aria-label={words.curveOfChannel(channel)}
        ref={graph}
        onPointerDown={(e) => {
          const at = spot(e);
          if (e.button !== 0 || (!p.curves.free && (at[0] < 0.01 || at[0] > 0.99))) return;
          const next = [...points, at].sort((a, b) => a[0] - b[0]);
          drag.current = { i: next.indexOf(at), points: next, added: true, moved: false };
          e.currentTarget.setPointerCapture(e.pointerId);
          p.onDrag(put(next));
        }}
        onPointerMove={(e) => {
          const from = drag.current;
          if (!from) return;
          from.moved = true;
          p.onDrag(put(moved(from.i, spot(e), from.points)));
        }}
        onPointerUp={(e) => {
          const from = drag.current;
          drag.current = undefined;
          // One that was pressed and not moved is as it was.
          if (from?.added) p.onRest(words.addAPoint, put(from.moved ? moved(from.i, spot(e), from.points) : from.points));
          else if (from?.moved) p.onRest(words.moveAPoint, put(moved(from.i, spot(e), from.points)));
        }}
      >
        {bars.map((v, i) => <rect key={i} className="bar" x={(i * W) / bars.length} width={W / bars.length + 0.2} y={H - Math.sqrt(v) * H} height={Math.sqrt(v) * H} />)}
        {[1, 2, 3].map((k) => <g key={k} className="grid"><line x1={(k * W) / 4} x2={(k * W) / 4} y1={0} y2={H} /><line x1={0} x2={W} y1={(k * H) / 4} y2={(k * H) / 4} /></g>)}
        <path className="line" d={d} />
        {points.map(([x, y], i) => (
          <circle
            key={i}
            cx={x * W}
            cy={H - y * H}
            r={5}
            tabIndex={0}
            role="button"
            aria-label={words.pointAtXY(Math.round(x * 255), Math.round(y * 255))}
            onPointerDown={(e) => {
              e.stopPropagation();
              if (e.button !== 0) return;
              e.currentTarget.setPointerCapture(e.pointerId);
              drag.current = { i, points, added: false, moved: false };
            }}
            onDoubleClick={() => p.onRest(words.removeAPoint, put(points.filter((_, k) => k !== i)))}
            onKeyDown={(e) => {
              const by: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
              const way = by[e.key];
              if (way) {
                const next = put(moved(i, [x + way[0] / 255, Math.max(0, Math.min(1, y + way[1] / 255))], points));
                p.onDrag(next);
                keys.after(next, keysRest);
              }
              else if (e.key === "Delete" || e.key === "Backspace") p.onRest(words.removeAPoint, put(points.filter((_, k) => k !== i)));
              else return;
              e.preventDefault();
            }}
          />
        ))}
      </Graph>
      <Ends><span>{down}</span><span>{up}</span></Ends>
      <Field
        key={`${channel} ${write(points)}`}
        aria-label={words.pointsTyped}
        aria-invalid={bad || undefined}
        defaultValue={write(points)}
        placeholder="64 50, 192 210"
        onBlur={(e) => {
          const next = read(e.target.value);
          setBad(!next);
          if (next && write(next) !== write(points)) p.onRest(words.pointsLow, put(next));
        }}
        onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); }}
      />
      {bad && <Small role="alert">{words.givePointsAsPairsFrom0}</Small>}
      <Toggle on={!!p.curves.free} onChange={(free) => p.onRest(free ? words.freeEnds : words.pinnedEnds, { ...p.curves, free })}>{words.freeTheEnds}</Toggle>
    </>
  );
}
