import { describe, expect, it } from "vitest";
import { beside, filledNext, fillings, fromOnePlace, isInside, middleOf, pathOf, shiftedBy, sourceOf } from "./patches";

const square = [[90, 90], [110, 90], [110, 110], [90, 110]].map((p) => ({ p }));
const near = (a: number[][], b: number[][]) => a.forEach((p, i) => p.forEach((v, j) => expect(v).toBeCloseTo(b[i]?.[j] ?? NaN, 6)));

describe("a patch", () => {
  it("comes from where the core takes it: shifted, turned, scaled, flipped", () => {
    // The same cases as core/mend's TestACoverIsTurnedScaledAndFlipped, for the corner at (110, 90).
    const corner = (p: object) => [sourceOf({ nodes: square, shift: [50, 5], feather: 3, ...p })[1] ?? []];
    near(corner({}), [[160, 95]]);
    near(corner({ turn: 90 }), [[140, 95]]);
    near(corner({ scale: 2 }), [[155, 100]]);
    near(corner({ flip: true }), [[140, 95]]);
    near(corner({ turn: 90, flip: true }), [[160, 95]]);
  });
  it("knows its middle and its inside with curves too", () => {
    const drop = [{ p: [0, 0], out: [40, -40], in: [-40, -40] }, { p: [0, 30] }];
    expect(pathOf(square)).toHaveLength(4);
    const [x, y] = middleOf(drop);
    expect(x).toBeCloseTo(0, 1);
    expect(y).toBeLessThan(15);
    expect(isInside(pathOf(square), [100, 100])).toBe(true);
    expect(isInside(pathOf(square), [100, 89])).toBe(false);
    expect(isInside(pathOf(drop), [12, 0])).toBe(true);
  });
  it("is filled by example in one way after the other, until a hand covers it from one place", () => {
    const p = { nodes: square, shift: [5, 6], feather: 3, flip: true };
    const ways = Array.from({ length: fillings + 1 }).reduce<(typeof p)[]>((all) => [...all, filledNext(all.at(-1) ?? p) as typeof p], []);
    expect(ways.map((w) => (w as { fill?: number }).fill)).toEqual([1, 2, 3, 1]);
    expect(fromOnePlace(filledNext(p))).toEqual(p);
    expect(shiftedBy(filledNext(p), [100, 100], [110, 100], { width: 500, height: 400 })).toEqual({ ...p, shift: [15, 6] });
  });
  it("is moved as far as the hand goes, and lies on the side with room", () => {
    expect(shiftedBy({ nodes: square, shift: [5, 5], feather: 3 }, [100, 100], [130.04, 90], { width: 500, height: 400 }).shift).toEqual([35, -5]);
    expect(shiftedBy({ nodes: square, shift: [5, 5], feather: 3 }, [100, 100], [900, -900], { width: 500, height: 400 }).shift).toEqual([400, -100]);
    expect(beside(square, 500)).toEqual([28, 0]);
    expect(beside(square, 115)).toEqual([-28, 0]);
  });
});
