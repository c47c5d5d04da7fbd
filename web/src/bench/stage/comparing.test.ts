import { describe, expect, it } from "vitest";
import { clipBefore, dragged, ends, hit, type SplitLine } from "./comparing";

const [w, h] = [800, 600];
const upright: SplitLine = { x: 0.5, y: 0.5, angle: 90 };

/** Where the corners of what a clip keeps lie, and whether a point is in it. */
function kept(s: SplitLine, x: number, y: number): boolean {
  const path: [number, number][] = [];
  const g = { beginPath: () => undefined, closePath: () => undefined, clip: () => undefined, moveTo: (a: number, b: number) => path.push([a, b]), lineTo: (a: number, b: number) => path.push([a, b]) };
  clipBefore(g as unknown as CanvasRenderingContext2D, s, w, h);
  let inside = false;
  path.forEach(([x0, y0], i) => {
    const [x1, y1] = path[(i + 1) % path.length] ?? [0, 0];
    if (y0 > y !== y1 > y && x < x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)) inside = !inside;
  });
  return inside;
}

describe("the line between before and after", () => {
  it("runs through its point at its angle, beyond the stage on both sides", () => {
    const [x0, y0, x1, y1] = ends(upright, w, h);
    expect([x0, x1].map(Math.round)).toEqual([400, 400]);
    expect(Math.min(y0, y1)).toBeLessThan(0);
    expect(Math.max(y0, y1)).toBeGreaterThan(h);
    const [a, b, c, d] = ends({ ...upright, angle: 45 }, w, h);
    expect((d - b) / (c - a)).toBeCloseTo(-1, 9); // up to the right
  });
  it("is moved by its knob and turned by what is far from it", () => {
    expect(hit(upright, w, h, 404, 300, 10)).toBe("move");
    expect(hit(upright, w, h, 402, 350, 10)).toBe("move");
    expect(hit(upright, w, h, 402, 520, 10)).toBe("turn");
    expect(hit(upright, w, h, 440, 520, 10)).toBeUndefined();
    expect(dragged(upright, "move", w, h, 200, 150)).toEqual({ x: 0.25, y: 0.25, angle: 90 });
    expect(dragged(upright, "move", w, h, -50, 900)).toEqual({ x: 0.02, y: 0.94, angle: 90 }); // it stays where a hand finds it
  });
  it("turns with the hand, by either end, and is caught where it is level, upright or in between", () => {
    expect(dragged(upright, "turn", w, h, 400 + 100, 300 - 58).angle).toBeCloseTo(30.1, 1);
    expect(dragged(upright, "turn", w, h, 400 - 100, 300 + 58).angle).toBeCloseTo(30.1, 1);
    expect(dragged(upright, "turn", w, h, 500, 302).angle).toBe(180);
    expect(dragged(upright, "turn", w, h, 403, 100).angle).toBe(90);
    expect(dragged(upright, "turn", w, h, 500, 195).angle).toBe(45);
  });
  it("has before to its left, or above it", () => {
    for (const angle of [90, 60, 120]) {
      expect(kept({ ...upright, angle }, 40, 300)).toBe(true);
      expect(kept({ ...upright, angle }, 760, 300)).toBe(false);
    }
    for (const angle of [0, 180]) {
      expect(kept({ ...upright, angle }, 400, 40)).toBe(true);
      expect(kept({ ...upright, angle }, 400, 560)).toBe(false);
    }
  });
});
