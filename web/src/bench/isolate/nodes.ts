import type { Pick } from "../../api/client";
import type { Point } from "./gestures";

export type Node = NonNullable<Pick["nodes"]>[number];
export type Handle = "in" | "out";

const point = (p: number[] | undefined): Point => [p?.[0] ?? 0, p?.[1] ?? 0];
const add = (a: Point, b: Point, k = 1): Point => [a[0] + k * b[0], a[1] + k * b[1]];
const sub = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1]];
const tidy = (p: Point): Point => [Math.round(p[0] * 10) / 10, Math.round(p[1] * 10) / 10];

/** A node where it was clicked; pulled, with handles on both sides. */
export function placed(from: Point, to: Point, pulled: boolean): Node {
  if (!pulled) return { p: tidy(from) };
  return { p: tidy(from), out: tidy(to), in: tidy(add(from, sub(from, to))) };
}

/** The outline as an SVG path; open while it is drawn. */
export function svgPath(nodes: Node[], closed: boolean, at: (p: Point) => Point): string {
  const t = (p: number[]) => at(point(p)).map((v) => v.toFixed(1)).join(" ");
  const first = nodes[0];
  if (!first) return "";
  let d = `M${t(first.p)}`;
  const n = closed ? nodes.length : nodes.length - 1;
  for (let i = 0; i < n; i++) {
    const a = nodes[i];
    const b = nodes[(i + 1) % nodes.length];
    if (!a || !b) continue;
    d += a.out || b.in ? `C${t(a.out ?? a.p)} ${t(b.in ?? b.p)} ${t(b.p)}` : `L${t(b.p)}`;
  }
  return closed ? `${d}Z` : d;
}

/** The lines of a grid of four by four nodes as an SVG path, rows and columns, each the curve of Catmull and Rom through its nodes. */
export function gridPath(nodes: number[][], at: (p: Point) => Point): string {
  const line = (on: Point[]) => {
    const n = (i: number): Point => on[Math.max(0, Math.min(3, i))] ?? [0, 0];
    const third = (i: number): Point => add([0, 0], sub(n(i + 1), n(i - 1)), (i % 3 ? 0.5 : 1) / 3); // of the slope at a node
    return svgPath(on.map((p, i) => ({ p, in: add(p, third(i), -1), out: add(p, third(i)) })), false, at);
  };
  const four = [0, 1, 2, 3];
  return [...four.map((j) => four.map((i) => 4 * j + i)), ...four.map((i) => four.map((j) => 4 * j + i))].map((on) => line(on.map((i) => point(nodes[i])))).join("");
}

/** Moves a node with its handles. */
export function moved(nodes: Node[], i: number, to: Point): Node[] {
  return nodes.map((n, k) => {
    if (k !== i) return n;
    const by = sub(to, point(n.p));
    return { p: tidy(to), ...(n.in ? { in: tidy(add(point(n.in), by)) } : {}), ...(n.out ? { out: tidy(add(point(n.out), by)) } : {}) };
  });
}

/** Moves a handle; the other one turns with it, unless the two are broken apart. */
export function pulled(nodes: Node[], i: number, which: Handle, to: Point, broken: boolean): Node[] {
  return nodes.map((n, k) => {
    if (k !== i) return n;
    const other: Handle = which === "in" ? "out" : "in";
    const next: Node = { ...n, [which]: tidy(to) };
    const o = n[other];
    if (!broken && o) {
      const p = point(n.p);
      const d = sub(p, to);
      const l = Math.hypot(d[0], d[1]);
      const far = Math.hypot(...sub(point(o), p));
      if (l > 0) next[other] = tidy(add(p, d, far / l));
    }
    return next;
  });
}

/** Makes a corner smooth, its handles along the line between its neighbours; a smooth node a corner. */
export function toggled(nodes: Node[], i: number): Node[] {
  return nodes.map((n, k) => {
    if (k !== i) return n;
    if (n.in || n.out) return { p: n.p };
    const a = point(nodes[(i + nodes.length - 1) % nodes.length]?.p);
    const b = point(nodes[(i + 1) % nodes.length]?.p);
    const p = point(n.p);
    const d = sub(b, a);
    const l = Math.hypot(d[0], d[1]) || 1;
    const reach = (q: Point) => Math.hypot(...sub(q, p)) / 3;
    return { p: n.p, in: tidy(add(p, d, -reach(a) / l)), out: tidy(add(p, d, reach(b) / l)) };
  });
}

const mix = (a: Point, b: Point, t: number): Point => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];

/** Puts a node into the segment nearest to a point; the path stays where it is (de Casteljau). */
export function inserted(nodes: Node[], at: Point): Node[] {
  let best = { d: Infinity, i: 0, t: 0.5 };
  const segment = (i: number): [Point, Point, Point, Point] => {
    const a = nodes[i];
    const b = nodes[(i + 1) % nodes.length];
    return [point(a?.p), point(a?.out ?? a?.p), point(b?.in ?? b?.p), point(b?.p)];
  };
  const split = ([a, b, c, d]: [Point, Point, Point, Point], t: number) => {
    const ab = mix(a, b, t);
    const bc = mix(b, c, t);
    const cd = mix(c, d, t);
    const l = mix(ab, bc, t);
    const r = mix(bc, cd, t);
    return { ab, cd, l, r, m: mix(l, r, t) };
  };
  for (let i = 0; i < nodes.length; i++) {
    for (let s = 1; s < 40; s++) {
      const m = split(segment(i), s / 40).m;
      const d = Math.hypot(m[0] - at[0], m[1] - at[1]);
      if (d < best.d) best = { d, i, t: s / 40 };
    }
  }
  const a = nodes[best.i];
  const j = (best.i + 1) % nodes.length;
  const b = nodes[j];
  if (!a || !b) return nodes;
  const curved = !!a.out || !!b.in;
  const s = split(segment(best.i), best.t);
  const out = nodes.map((n, k): Node => (!curved ? n : k === best.i ? { ...n, out: tidy(s.ab) } : k === j ? { ...n, in: tidy(s.cd) } : n));
  out.splice(best.i + 1, 0, curved ? { p: tidy(s.m), in: tidy(s.l), out: tidy(s.r) } : { p: tidy(s.m) });
  return out;
}

/** How near, on the screen, the end of a path drawn by hand is to its start for the two to be one, in CSS pixels. */
export const closeBy = 14;

/**
 * An outline that goes on with a path drawn by hand: fitted are the nodes of the path. Where it begins by the outline's end, or
 * ends by the outline's start, nearer than reach, the two nodes become one; the latter closes it.
 */
export function drawnOn(nodes: Node[], fitted: Node[], reach: number): { nodes: Node[]; closed: boolean } {
  const by = (a?: Node, b?: Node) => !!a && !!b && Math.hypot(...sub(point(a.p), point(b.p))) <= reach;
  let all = [...nodes];
  let more = [...fitted];
  const end = all[all.length - 1];
  const begin = more[0];
  if (end && begin && by(end, begin)) {
    all = [...all.slice(0, -1), { ...end, ...(begin.out ? { out: begin.out } : {}) }];
    more = more.slice(1);
  }
  all = [...all, ...more];
  const first = all[0];
  const last = all[all.length - 1];
  if (first && last && all.length > 3 && by(first, last)) return { nodes: [{ ...first, ...(last.in ? { in: last.in } : {}) }, ...all.slice(1, -1)], closed: true };
  return { nodes: all, closed: false };
}
