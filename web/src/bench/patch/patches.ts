import type { Patch } from "../../api/client";
import type { Point } from "../isolate/gestures";
import type { Node } from "../isolate/nodes";

const xy = (p: number[] | undefined): Point => [p?.[0] ?? 0, p?.[1] ?? 0];

/** The points of an outline's path, closely enough to draw by and to tell inside from outside. */
export function pathOf(nodes: Node[]): Point[] {
  return nodes.flatMap((n, i) => {
    const m = nodes[(i + 1) % nodes.length] ?? n;
    if (!n.out && !m.in) return [xy(n.p)];
    const [a, b, c, d] = [xy(n.p), xy(n.out ?? n.p), xy(m.in ?? m.p), xy(m.p)];
    return Array.from({ length: 16 }, (_, k): Point => {
      const [t, u] = [k / 16, 1 - k / 16];
      const at = (j: 0 | 1) => u * u * u * a[j] + 3 * u * u * t * b[j] + 3 * u * t * t * c[j] + t * t * t * d[j];
      return [at(0), at(1)];
    });
  });
}

/** The middle of an outline's box, which its cover is turned about. */
export function middleOf(nodes: Node[]): Point {
  const path = pathOf(nodes);
  const mid = (j: 0 | 1) => (Math.min(...path.map((q) => q[j])) + Math.max(...path.map((q) => q[j]))) / 2;
  return [mid(0), mid(1)];
}

/** Where the cover of a patch comes from: its outline there, as points. */
export function sourceOf(p: Patch): Point[] {
  const [mx, my] = middleOf(p.nodes);
  const [k, a] = [1 / (p.scale || 1), (-(p.turn ?? 0) * Math.PI) / 180];
  const [sin, cos] = [Math.sin(a), Math.cos(a)];
  return pathOf(p.nodes).map(([x, y]): Point => {
    const [dx, dy] = [x - mx, y - my];
    const across = k * (cos * dx - sin * dy);
    return [mx + (p.shift[0] ?? 0) + (p.flip ? -across : across), my + (p.shift[1] ?? 0) + k * (sin * dx + cos * dy)];
  });
}

/** Whether a point lies inside a closed path. */
export function isInside(path: Point[], [x, y]: Point): boolean {
  let inside = false;
  path.forEach(([ax, ay], i) => {
    const [bx, by] = path[(i + 1) % path.length] ?? [ax, ay];
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  });
  return inside;
}

const tidy = (v: number) => Math.round(v * 10) / 10;

/** How many fillings by example the server has of one patch. */
export const fillings = 3;

/** The patch filled by example, the next way if it is already. */
export const filledNext = (p: Patch): Patch => ({ ...p, fill: ((p.fill ?? 0) % fillings) + 1 });

/** The patch covered from one place again. */
export function fromOnePlace(p: Patch): Patch {
  const rest = { ...p };
  delete rest.fill;
  return rest;
}

/** The patch with its cover moved by a hand, as far as the hand went; its middle stays in the picture. What was filled by example comes from there then. */
export function shiftedBy(p: Patch, from: Point, to: Point, picture: { width: number; height: number }): Patch {
  const [mx, my] = middleOf(p.nodes);
  const within = (middle: number, shift: number, most: number) => tidy(Math.max(-middle, Math.min(most - middle, shift)));
  return { ...fromOnePlace(p), shift: [within(mx, (p.shift[0] ?? 0) + to[0] - from[0], picture.width), within(my, (p.shift[1] ?? 0) + to[1] - from[1], picture.height)] };
}

/** Beside what is covered, where nothing better was found: on the side that has room. */
export function beside(nodes: Node[], width: number): Point {
  const path = pathOf(nodes);
  const [x0, x1] = [Math.min(...path.map((q) => q[0])), Math.max(...path.map((q) => q[0]))];
  const by = x1 - x0 + 8;
  return [x1 + by <= width || x0 < width - x1 ? tidy(by) : -tidy(by), 0];
}
