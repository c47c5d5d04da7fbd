import { describe, expect, it } from "vitest";
import type { Areas, Copy, Document, Part } from "../../api/client";
import { newPart } from "../parts";
import { firstPattern } from "../pattern/patterns";
import { before, boxOf, copyOf, cutBox, cutPart, handled, handsOf, placed, reordered, unplaced, unplacedStroke, wentTo, type Box } from "./copies";

const area = (box: number[], pixels: number, hole = false) => ({ box, pixels, hole, at: [0, 0] });
const areas = (list: ReturnType<typeof area>[]): Areas => ({ list, areas: list.length, holes: 0, specks: 0, pinholes: 0, speck_most: 0, pinhole_most: 0 });
const copy: Copy = { of: "mug", about: [60, 80], at: [200, 90], turn: 90, scale: 2 };
const box: Box = [40, 60, 80, 100];
const picture = { width: 400, height: 300 };

describe("copies", () => {
  it("takes the box of what belongs to a thing, without specks and holes", () => {
    expect(boxOf(areas([area([10, 10, 50, 60], 2000), area([60, 20, 90, 70], 900), area([300, 300, 303, 303], 9), area([0, 0, 99, 99], 500, true)]))).toEqual([10, 10, 90, 70]);
    expect(boxOf(areas([]))).toBeUndefined();
  });

  it("stands beside the original on the side that has room, with its colour", () => {
    const mug: Part = { ...newPart("Mug"), target: { css: "#123456" } };
    const d: Document = { parts: [mug] };
    expect(copyOf(d, mug, [10, 10, 110, 90], picture).copy?.at).toEqual([168, 50]);
    expect(copyOf(d, mug, [280, 10, 380, 90], picture).copy?.at).toEqual([222, 50]);
    const wide = copyOf(d, mug, [20, 10, 380, 90], picture);
    expect(wide.copy?.at[0]).toBeLessThanOrEqual(picture.width);
    expect(wide.target.css).toBe("#123456");
    const pattern = firstPattern("dots", 400, { css: "#fff" });
    expect(copyOf(d, { ...mug, pattern }, [10, 10, 110, 90], picture).pattern).toEqual(pattern); // it lies on the copy as on the original
    expect(copyOf({ parts: [mug, wide] }, mug, [10, 10, 110, 90], picture).name).not.toBe(wide.name);
  });

  it("is of another picture under a name of its own", () => {
    const cut = { file: "f".repeat(64), size: [300, 240] };
    const mug: Part = { ...newPart("Mug"), copy: { cut, about: [150, 120], at: [500, 400], scale: 0.5 } };
    const here = cutPart({ parts: [newPart("Mug")] }, mug);
    expect(here.name).not.toBe("Mug");
    expect(here.copy?.shadow?.softness).toBe(10);
    expect(cutPart({ parts: [] }, mug).name).toBe("Mug");
    expect(cutBox(cut)).toEqual([0, 0, 300, 240]);
    expect(handsOf(mug.copy as Copy, cutBox(cut)).corners[2]?.map(Math.round)).toEqual([575, 460]);
  });

  it("turns clockwise and scales about its middle, as the core does", () => {
    expect(placed(copy, [70, 80]).map(Math.round)).toEqual([200, 110]);
    expect(placed({ ...copy, turn: 0, flip: true }, [70, 80]).map(Math.round)).toEqual([180, 90]);
  });

  it("has its places in the original", () => {
    for (const c of [copy, { ...copy, turn: 33, scale: undefined, flip: true }, undefined])
      for (const p of [[70, 80], [12, 300]] as [number, number][]) unplaced(c, c ? placed(c, p) : p).forEach((v, i) => expect(v).toBeCloseTo(p[i] ?? NaN, 9));
    const s = unplacedStroke(copy, { radius: 10, points: [[200, 110]] });
    expect([s.radius, ...(s.points[0] ?? []).map(Math.round)]).toEqual([5, 70, 80]);
  });

  it("is scaled by a corner and turned by the point above it", () => {
    const { corners, turn } = handsOf(copy, box);
    const [c] = corners;
    if (!c) throw new Error("no corner");
    const out = [2 * c[0] - 200, 2 * c[1] - 90] as [number, number];
    expect(handled(copy, 0, c, out).scale).toBe(4);
    expect(handled(copy, 0, c, [200, 90]).scale).toBe(0.05);
    const back = handled(copy, "turn", turn, [200, 0]);
    expect(back.turn).toBeUndefined(); // upright again
    expect(handled({ ...copy, turn: 170 }, "turn", [300, 90], [200, 190]).turn).toBe(-100);
  });

  it("stays in the picture when it is moved", () => {
    expect(wentTo(copy, [0, 0], [-500, 33], picture).at).toEqual([0, 123]);
  });

  it("goes behind and before other parts", () => {
    const [a, b, c] = ["a", "b", "c"].map((id) => ({ ...newPart(id), id })) as [Part, Part, Part];
    const d: Document = { parts: [a, b, c] };
    expect(reordered(d, "b", -1).parts.map((q) => q.id)).toEqual(["b", "a", "c"]);
    expect(reordered(d, "c", 1)).toBe(d);
    expect(before(d.parts, "a").map((q) => q.id)).toEqual(["b", "c"]);
    expect(before([a, { ...b, overlap: true }, c], "a").map((q) => q.id)).toEqual(["c"]);
  });
});
