import { useRef } from "react";
import styled from "styled-components";
import * as words from "../../words/isolate";

const Graph = styled.svg`
  width: 100%;
  height: 54px;
  display: block;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: #fff;
  touch-action: none;
  .bar { fill: #9a9a9a; }
  .in { fill: #141414; }
  .end { stroke: #141414; stroke-width: 2; }
  .soft { stroke: #6b6b6b; stroke-width: 1; stroke-dasharray: 3 3; }
`;

/** A histogram with a band in it; the ends are dragged, or the band is drawn afresh. */
export function Band(p: { label: string; bins: number[] | undefined; min: number; max: number; wraps?: boolean; step: number; from: number; to: number; soft: number; onBand: (from: number, to: number, done: boolean) => void }) {
  const drag = useRef<{ end: "from" | "to" | "new"; at: number } | undefined>(undefined);
  const n = p.bins?.length ?? 1;
  const width = 300;
  const x = (v: number) => ((v - p.min) / (p.max - p.min)) * width;
  const inside = (v: number) => (p.from <= p.to ? v >= p.from && v <= p.to : v >= p.from || v <= p.to);
  const value = (e: React.PointerEvent<SVGSVGElement>) => {
    const r = e.currentTarget.getBoundingClientRect();
    const v = p.min + Math.max(0, Math.min(1, (e.clientX - r.left) / r.width)) * (p.max - p.min);
    return Math.round(v / p.step) * p.step;
  };
  const send = (e: React.PointerEvent<SVGSVGElement>, done: boolean) => {
    const d = drag.current;
    if (!d) return;
    const v = value(e);
    let [from, to] = d.end === "new" ? [Math.min(d.at, v), Math.max(d.at, v)] : d.end === "from" ? [v, p.to] : [p.from, v];
    if (!p.wraps && from > to) [from, to] = [to, from];
    p.onBand(Number(from.toFixed(3)), Number(to.toFixed(3)), done);
  };
  return (
    <Graph
      viewBox={`0 0 ${width} 54`}
      preserveAspectRatio="none"
      role="img"
      aria-label={words.labelFromTo(p.label, p.from, p.to)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        const v = value(e);
        const near = (p.max - p.min) * 0.04;
        drag.current = { end: Math.abs(v - p.from) < near ? "from" : Math.abs(v - p.to) < near ? "to" : "new", at: v };
      }}
      onPointerMove={(e) => send(e, false)}
      onPointerUp={(e) => {
        send(e, true);
        drag.current = undefined;
      }}
      onPointerCancel={() => { drag.current = undefined; }}
    >
      {(p.bins ?? []).map((v, i) => {
        const mid = p.min + ((i + 0.5) / n) * (p.max - p.min);
        const h = Math.sqrt(v) * 50;
        return <rect key={i} className={inside(mid) ? "in" : "bar"} x={(i * width) / n} y={54 - h} width={width / n - 0.6} height={h} />;
      })}
      {[p.from - p.soft, p.to + p.soft].map((v, i) => <line key={i} className="soft" x1={x(v)} x2={x(v)} y1={0} y2={54} />)}
      {[p.from, p.to].map((v, i) => <line key={i} className="end" x1={x(v)} x2={x(v)} y1={0} y2={54} />)}
    </Graph>
  );
}
