import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { closeBy, drawnOn, inserted, moved, placed, pulled, svgPath, toggled, type Node } from "./nodes";

type P = [number, number];
const xy = (p: number[] | undefined): P => [p?.[0] ?? NaN, p?.[1] ?? NaN];

/** A point of a closed outline, by the cubic of Bernstein. */
function on(nodes: Node[], i: number, t: number): P {
  const [a, b] = [nodes[i] as Node, nodes[(i + 1) % nodes.length] as Node];
  const c = [a.p, a.out ?? a.p, b.in ?? b.p, b.p];
  const k = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
  return [0, 1].map((d) => c.reduce((s, q, j) => s + (k[j] ?? 0) * (q[d] ?? 0), 0)) as P;
}
const whole = (nodes: Node[]) => nodes.flatMap((_, i) => Array.from({ length: 50 }, (_, s) => on(nodes, i, s / 50)));
const near = (p: P, path: P[]) => Math.min(...path.map((q) => Math.hypot(p[0] - q[0], p[1] - q[1])));

const curve: Node[] = [{ p: [0, 0], out: [40, -30] }, { p: [100, 0], in: [60, -30], out: [130, 30] }, { p: [100, 100], in: [130, 60] }, { p: [0, 100] }];

describe("an outline's nodes", () => {
  it("are put into the segment that is nearest, and the path stays where it is", () => {
    for (let i = 0; i < curve.length; i++) {
      for (const t of [0.2, 0.5, 0.8]) {
        const at = on(curve, i, t);
        const next = inserted(curve, at);
        expect(next.length).toBe(5);
        expect(Math.hypot(xy(next[i + 1]?.p)[0] - at[0], xy(next[i + 1]?.p)[1] - at[1]), `segment ${i}`).toBeLessThan(2.5);
        const [was, is] = [whole(curve), whole(next)];
        for (const p of was) expect(near(p, is)).toBeLessThan(2);
        for (const p of is) expect(near(p, was)).toBeLessThan(2);
        expect(next.filter((_, k) => k !== i + 1).map((n) => n.p)).toEqual(curve.map((n) => n.p));
      }
    }
  });

  it("move with their handles, and no other moves", () => {
    const next = moved(curve, 1, [110, 20]);
    expect(next[1]).toEqual({ p: [110, 20], in: [70, -10], out: [140, 50] });
    expect([next[0], next[2], next[3]]).toEqual([curve[0], curve[2], curve[3]]);
  });

  it("keep their handles in line, unless they are broken", () => {
    const next = pulled(curve, 1, "in", [100, -50], false)[1];
    expect(next?.in).toEqual([100, -50]);
    const far = Math.hypot(30, 30);
    expect(xy(next?.out)[0]).toBeCloseTo(100, 1);
    expect(xy(next?.out)[1]).toBeCloseTo(far, 1);
    expect(pulled(curve, 1, "out", [150, 0], true)[1]).toEqual({ p: [100, 0], in: [60, -30], out: [150, 0] });
  });

  it("become smooth along the line between their neighbours, and corners again", () => {
    const smooth = toggled(curve, 3)[3] as Node;
    const [i, p, o] = [xy(smooth.in), xy(smooth.p), xy(smooth.out)];
    const cross = (p[0] - i[0]) * (o[1] - p[1]) - (p[1] - i[1]) * (o[0] - p[0]);
    expect(Math.abs(cross)).toBeLessThan(20);
    // The one before is at the right, the one after above: in points to the one, out to the other.
    expect((i[0] - p[0]) * 100 + (i[1] - p[1]) * 0).toBeGreaterThan(0);
    expect(o[1]).toBeLessThan(p[1]);
    expect(toggled(toggled(curve, 3), 3)[3]).toEqual({ p: [0, 100] });
  });

  it("are corners where they are clicked, and curves where they are pulled", () => {
    expect(placed([3, 4], [9, 9], false)).toEqual({ p: [3, 4] });
    expect(placed([10, 10], [14, 12], true)).toEqual({ p: [10, 10], out: [14, 12], in: [6, 8] });
  });

  it("are a path of lines and curves", () => {
    const at = (p: P): P => [2 * p[0], p[1] + 1];
    expect(svgPath([{ p: [0, 0] }, { p: [10, 0], out: [12, 3] }, { p: [10, 10] }], true, at)).toBe("M0.0 1.0L20.0 1.0C24.0 4.0 20.0 11.0 20.0 11.0L0.0 1.0Z");
    expect(svgPath([{ p: [0, 0] }, { p: [10, 0] }], false, at)).toBe("M0.0 1.0L20.0 1.0");
    expect(svgPath([], true, at)).toBe("");
  });

  it("go on where a path by hand begins at their end, and close where it ends at their start", () => {
    const first: Node[] = [{ p: [0, 0] }, { p: [100, 0] }];
    const on = drawnOn(first, [{ p: [102, 3] }, { p: [100, 100] }], closeBy);
    expect(on.closed).toBe(false);
    expect(on.nodes.map((n) => n.p[0])).toEqual([0, 100, 100]);
    const closed = drawnOn(on.nodes, [{ p: [100, 100] }, { p: [50, 120] }, { p: [4, -3] }], closeBy);
    expect(closed.closed).toBe(true);
    expect(closed.nodes.length).toBe(4);
    expect(drawnOn([], [{ p: [0, 0] }, { p: [50, 0] }, { p: [50, 50] }, { p: [2, 2] }], closeBy).closed).toBe(true);
  });

  it("never lose their place, whatever is inserted", () => {
    const r = random(2);
    for (let k = 0; k < 200; k++) {
      const at: P = [200 * r() - 50, 200 * r() - 50];
      const next = inserted(curve, at);
      const put = next.find((n) => !curve.some((c) => c.p[0] === n.p[0] && c.p[1] === n.p[1]));
      const best = near(at, whole(curve));
      expect(Math.hypot(xy(put?.p)[0] - at[0], xy(put?.p)[1] - at[1])).toBeLessThan(best + 3);
    }
  });
});
