import { describe, expect, it } from "vitest";
import { Fingers } from "./fingers";

describe("fingers", () => {
  it("move what is shown by their middle, and draw it larger by how far they go apart", () => {
    const f = new Fingers();
    expect(f.down(1, 100, 100)).toBe(false); // one alone draws
    expect(f.move(1, 110, 100)).toBeUndefined();
    expect(f.down(2, 210, 100)).toBe(true);
    expect(f.move(2, 310, 120)).toMatchObject({ x: 210, y: 110, dx: 50, dy: 10 });
    expect(f.move(1, 10, 120)).toMatchObject({ dx: -50, dy: 10, apart: 300 / Math.hypot(200, 20) });
    expect(f.move(9, 0, 0)).toBeUndefined(); // of one that is not down
  });
  it("draw nothing until all are lifted", () => {
    const f = new Fingers();
    f.down(1, 0, 0);
    f.down(2, 50, 0);
    expect(f.up(1)).toBe(true);
    expect(f.pinching).toBe(true); // the last one of a pinch does not begin a stroke
    expect(f.down(3, 9, 9)).toBe(true);
    expect(f.up(3)).toBe(true);
    expect(f.up(2)).toBe(true);
    expect(f.pinching).toBe(false);
    expect(f.down(4, 0, 0)).toBe(false);
    expect(f.up(4)).toBe(false);
  });
});
