import { useRef } from "react";
import styled from "styled-components";
import type { Pick } from "../../api/client";
import type { Point } from "../isolate/gestures";
import { gridPath, inserted, moved, pulled, svgPath, toggled, type Handle, type Node } from "../isolate/nodes";
import type { Placement } from "../../stage/viewport";
import * as words from "../../words/bench";

const Svg = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  overflow: hidden;
  .under { fill: none; stroke: #000; stroke-width: 3; }
  .over { fill: none; stroke: #fff; stroke-width: 1.2; }
  .hit { fill: none; stroke: transparent; stroke-width: 11; pointer-events: stroke; cursor: copy; }
  .node, .handle { pointer-events: all; fill: #fff; stroke: #000; stroke-width: 1.4; cursor: move; outline: none; }
  .node.smooth { rx: 6; }
  .passed { pointer-events: none; }
  .node:focus-visible { fill: #000; stroke: #fff; }
  .node.first { stroke-width: 2.4; }
  .mark { fill: #fff; stroke: #000; stroke-width: 1.4; }
  .not { fill: #000; stroke: #fff; stroke-width: 1.4; }
`;

export interface Shapes {
  /** The pick whose inputs are shown. */
  pick?: Pick;
  /** An outline that is being drawn, or a ring that waits for its first stroke. */
  nodes?: Node[];
  ring?: Point[];
  drawing: boolean;
  /** The nodes of a grid of four by four, row by row: they can be moved, none can be taken out or put in. */
  grid?: Node[];
  /** Where the cover of a patch comes from. */
  source?: Point[];
  /** The area that is pointed out: x0, y0, x1, y1. */
  area?: number[];
  /** What a copy can be taken by. */
  hands?: { corners: Point[]; turn: Point };
}

interface Props extends Shapes {
  /** A hand goes on drawing from the last node: pressing there is not taking it. */
  byHand: boolean;
  placement: Placement;
  onNodes: (nodes: Node[], done: boolean, label: string) => void;
  onClose: () => void;
  onHand?: (which: number | "turn", from: Point, to: Point, done: boolean) => void;
}

/** What picks were made from, drawn over the stage: samples, outlines with their nodes, rings and strokes. */
export function StageOverlay(p: Props) {
  const k = 1 / (globalThis.devicePixelRatio || 1);
  const { zoom, left, top } = p.placement;
  const at = (q: Point): Point => [(left + q[0] * zoom) * k, (top + q[1] * zoom) * k];
  const drag = useRef<{ i: number; handle?: Handle; from: Node[] } | undefined>(undefined);
  const held = useRef<{ which: number | "turn"; from: Point } | undefined>(undefined);
  const nodes = p.grid ?? p.nodes ?? p.pick?.nodes;
  const spot = (e: React.PointerEvent<SVGElement>): Point => {
    const r = (e.currentTarget.ownerSVGElement ?? (e.currentTarget as unknown as SVGSVGElement)).getBoundingClientRect();
    return [((e.clientX - r.left) / k - left) / zoom, ((e.clientY - r.top) / k - top) / zoom];
  };
  const down = (i: number, handle?: Handle) => (e: React.PointerEvent<SVGElement>) => {
    e.stopPropagation();
    if (e.button !== 0 || !nodes) return;
    if (p.drawing && i === 0 && !handle) {
      p.onClose();
      return;
    }
    e.currentTarget.setPointerCapture(e.pointerId);
    drag.current = { i, handle, from: nodes };
  };
  const next = (e: React.PointerEvent<SVGElement>) => {
    const d = drag.current;
    if (!d) return undefined;
    return d.handle ? pulled(d.from, d.i, d.handle, spot(e), e.altKey) : moved(d.from, d.i, spot(e));
  };
  const move = (e: React.PointerEvent<SVGElement>) => {
    const n = next(e);
    if (n) p.onNodes(n, false, "");
  };
  const up = (e: React.PointerEvent<SVGElement>) => {
    const n = next(e);
    const d = drag.current;
    drag.current = undefined;
    if (n && d && JSON.stringify(n) !== JSON.stringify(d.from)) p.onNodes(n, true, d.handle ? words.bendAnOutline : words.moveANode);
  };
  const hand = (which: number | "turn", spotOf: Point, label: string) => {
    const [x, y] = at(spotOf);
    const go = (done: boolean) => (e: React.PointerEvent<SVGElement>) => {
      const h = held.current;
      if (!h) return;
      if (done) held.current = undefined;
      p.onHand?.(h.which, h.from, spot(e), done);
    };
    const props = {
      className: "node",
      role: "img",
      "aria-label": label,
      onPointerDown: (e: React.PointerEvent<SVGElement>) => {
        e.stopPropagation();
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        held.current = { which, from: spot(e) };
      },
      onPointerMove: go(false),
      onPointerUp: go(true),
      onPointerCancel: go(true),
    };
    return which === "turn" ? <circle key="turn" cx={x} cy={y} r={6} {...props} /> : <rect key={which} x={x - 5} y={y - 5} width={10} height={10} {...props} />;
  };
  const key = (i: number) => (e: React.KeyboardEvent<SVGElement>) => {
    const n = nodes?.[i];
    if (!nodes || !n) return;
    const step = e.shiftKey ? 10 : 1;
    const way: Record<string, Point> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
    const by = way[e.key];
    if (by) p.onNodes(moved(nodes, i, [(n.p[0] ?? 0) + by[0], (n.p[1] ?? 0) + by[1]]), true, words.moveANode);
    else if (p.grid) return;
    else if ((e.key === "Delete" || e.key === "Backspace") && nodes.length > 3) p.onNodes(nodes.filter((_, j) => j !== i), true, words.removeANode);
    else if (e.key === "Enter" && p.drawing && i === 0) p.onClose();
    else if (e.key === "Enter") p.onNodes(toggled(nodes, i), true, n.in || n.out ? words.sharpNode : words.smoothNode);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const lines = (points: number[][], closed: boolean, id: string) => {
    const d = points.map((q, i) => `${i ? "L" : "M"}${at([q[0] ?? 0, q[1] ?? 0]).map((v) => v.toFixed(1)).join(" ")}`).join("") + (closed ? "Z" : "");
    return (
      <g key={id}>
        <path className="under" d={d} />
        <path className="over" d={d} strokeDasharray={closed ? "6 4" : undefined} />
      </g>
    );
  };
  const goesOn = (i: number) => p.byHand && (p.drawing || !!p.nodes) && i === (nodes?.length ?? 0) - 1 && i > 0;
  const q = p.pick;
  const closed = !p.drawing && !p.nodes;
  const path = !nodes?.length ? "" : p.grid ? gridPath(p.grid.map((n) => n.p), at) : svgPath(nodes, closed, at);
  return (
    <Svg aria-label={words.whatThePickWasMadeFrom} role="group">
      {(p.ring ?? q?.ring) && lines(p.ring ?? q?.ring ?? [], true, "ring")}
      {p.source && p.source.length > 0 && lines(p.source, true, "source")}
      {q?.kind === "marks" && [...(q.inside ?? []), ...(q.outside ?? [])].map((s, i) => lines(s.points, false, `s${i}`))}
      {q?.kind === "like" && (
        <g>
          {(q.boxes ?? []).map((b, i) => {
            const [x0, y0] = at([b[0] ?? 0, b[1] ?? 0]);
            const [x1, y1] = at([b[2] ?? 0, b[3] ?? 0]);
            return (
              <g key={`b${i}`}>
                <rect className="under" x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
                <rect className="over" x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
              </g>
            );
          })}
          {(q.samples ?? []).map((s, i) => {
            const [x, y] = at([s[0] ?? 0, s[1] ?? 0]);
            return <circle key={`s${i}`} className="mark" cx={x} cy={y} r={4} />;
          })}
          {(q.not ?? []).map((s, i) => {
            const [x, y] = at([s[0] ?? 0, s[1] ?? 0]);
            return <rect key={`n${i}`} className="not" x={x - 5} y={y - 2} width={10} height={4} />;
          })}
        </g>
      )}
      {nodes && nodes.length > 0 && (
        <g>
          <path className="under" d={path} />
          <path className="over" d={path} />
          {closed && !p.grid && <path className="hit" d={path} onPointerDown={(e) => { e.stopPropagation(); p.onNodes(inserted(nodes, spot(e)), true, words.addANode); }} />}
          {nodes.map((n, i) => {
            const [x, y] = at([n.p[0] ?? 0, n.p[1] ?? 0]);
            const handles = (["in", "out"] as const).filter((h) => n[h]);
            return (
              <g key={i}>
                {handles.map((h) => {
                  const [hx, hy] = at([n[h]?.[0] ?? 0, n[h]?.[1] ?? 0]);
                  return (
                    <g key={h}>
                      <path className="under" d={`M${x} ${y}L${hx} ${hy}`} />
                      <path className="over" d={`M${x} ${y}L${hx} ${hy}`} />
                      <circle className={goesOn(i) ? words.handlePassed : words.handle} cx={hx} cy={hy} r={3.6} onPointerDown={down(i, h)} onPointerMove={move} onPointerUp={up} onPointerCancel={up} />
                    </g>
                  );
                })}
                <rect
                  className={`node${handles.length ? " smooth" : ""}${i === 0 && p.drawing ? " first" : ""}${goesOn(i) ? " passed" : ""}`}
                  x={x - 5}
                  y={y - 5}
                  width={10}
                  height={10}
                  tabIndex={0}
                  role="button"
                  aria-label={p.grid ? words.nodeOfRow((i % 4) + 1, Math.floor(i / 4) + 1) : words.nodeNumberOfNodesMore(i + 1, nodes.length, handles.length ? words.smooth : words.corner)}
                  onPointerDown={down(i)}
                  onPointerMove={move}
                  onPointerUp={up}
                  onPointerCancel={up}
                  onDoubleClick={() => { if (!p.drawing && !p.grid) p.onNodes(toggled(nodes, i), true, handles.length ? words.sharpNode : words.smoothNode); }}
                  onKeyDown={key(i)}
                />
              </g>
            );
          })}
        </g>
      )}
      {p.hands && (
        <g>
          {lines(p.hands.corners, true, "box")}
          {p.hands.corners.map((q, i) => hand(i, q, words.cornerNumberOfTheCopy(i + 1)))}
          {hand("turn", p.hands.turn, words.turnsTheCopy)}
        </g>
      )}
      {p.area && (() => {
        const [x0, y0] = at([(p.area[0] ?? 0) - 3, (p.area[1] ?? 0) - 3]);
        const [x1, y1] = at([(p.area[2] ?? 0) + 3, (p.area[3] ?? 0) + 3]);
        return (
          <g>
            <rect className="under" x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
            <rect className="over" x={x0} y={y0} width={x1 - x0} height={y1 - y0} strokeDasharray="4 3" />
          </g>
        );
      })()}
    </Svg>
  );
}
