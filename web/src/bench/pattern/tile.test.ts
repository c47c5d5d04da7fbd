import { describe, expect, it } from "vitest";
import { drawnWith, further, repeats, withDrawn } from "./tile";
import { firstPattern } from "./patterns";

const swatch = (id: string, css: string) => ({ id, name: id, css, tolerance: 2 });
const stroke = (figure: number) => ({ figure, radius: 40, points: [[1, 1]] });

describe("a tile drawn by hand", () => {
  it("is drawn with the pattern's colours, then with those of the palette that are not in it", () => {
    const palette = [swatch("teal", "#1d6a72"), swatch("lamp", "#d9a441"), swatch("cream", "#f1ead8")];
    const p = { ...firstPattern("dots", 1000, { css: "#d9a441", palette_id: "lamp" }) };
    expect(drawnWith(p, palette, { palette_id: "teal" }).map((c) => c.css)).toEqual(["#d9a441", "#f1ead8", "#f2ece0", "#22252e"]);
    expect(drawnWith(undefined, [], {})).toHaveLength(4);
  });
  it("is drawn on as far as a hand goes, and no farther than the server takes", () => {
    expect(further(stroke(0), [3, 2]).points).toHaveLength(1);
    expect(further(stroke(0), [30, 2.4]).points[1]).toEqual([30, 2]);
    expect(further(stroke(0), [9000, -9000]).points[1]).toEqual([2500, -1500]);
    const long = { ...stroke(0), points: Array.from({ length: 400 }, (_, i) => [i, 0]) };
    expect(further(long, [900, 900])).toBe(long);
  });
  it("is shown wherever any of it is seen, and drawn nowhere else", () => {
    expect(repeats([150], 10, 100, 300)).toEqual([-100, 0, 100]);
    expect(repeats([5, 95], 10, 100, 300)).toEqual([-100, 0, 100, 200, 300]);
    expect(repeats([-1000], 1, 100, 150)).toEqual([1000, 1100]);
  });
  it("lies as the one before it did, in the colours it was drawn with", () => {
    const p = firstPattern("stripes", 1000, { css: "#111111" });
    const drawn = withDrawn({ ...p, lay: { ...p.lay, angle: 30 } }, "a".repeat(64), [{ css: "#1d6a72", palette_id: "teal", tolerance: 2 }], 1000);
    expect(drawn.lay).toMatchObject({ tile: "drawn", file: "a".repeat(64), figures: 1, angle: 30, size: p.lay.size });
    expect(drawn.colours).toEqual([{ css: "#1d6a72", palette_id: "teal", tolerance: 2 }]);
  });
});
