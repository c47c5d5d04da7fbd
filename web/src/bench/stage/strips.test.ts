import { describe, expect, it } from "vitest";
import { taken, type Seen } from "./strips";

/** A picture whose every place has a value of its own, and what a view of it shows. */
const value = (x: number, y: number) => Math.round(x * 1000) * 100_003 + Math.round(y * 1000);
const show = (v: Seen) => {
  const s = v.w / v.width;
  return Array.from({ length: v.height }, (_, j) => Array.from({ length: v.width }, (_, i) => value(v.x + (i + 0.5) * s, v.y + (j + 0.5) * s)));
};
const view = (x: number, y: number, width: number, height: number, scale = 1): Seen => ({ x, y, w: width * scale, h: height * scale, width, height });

/** The view that is wanted, put together; how many pixels of it were asked for. */
function together(have: Seen, want: Seen) {
  const t = taken(have, want);
  if (!t) return undefined;
  const there = show(have);
  const to: (number | undefined)[][] = Array.from({ length: want.height }, (_, j) => Array.from({ length: want.width }, (_, i) => there[j - t.dy]?.[i - t.dx]));
  let asked = 0;
  for (const m of t.missing)
    show(m).forEach((row, j) => row.forEach((v, i) => {
      asked++;
      const line = to[m.top + j];
      expect(line?.[m.left + i]).toBeUndefined(); // nothing comes twice
      if (line) line[m.left + i] = v;
    }));
  return { to, asked };
}

describe("what is taken over from a frame", () => {
  it("and what is missing are the view, whichever way it moved, at any scale", () => {
    for (const scale of [1, 2.5, 1 / 3])
      for (const [dx, dy] of [[12, 0], [-12, 0], [0, 7], [0, -7], [5, -9], [-20, 3], [0, 0]] as const)
        for (const [width, height] of [[60, 40], [52, 44]] as const) {
          const want = view(100 * scale + dx * scale, 50 * scale + dy * scale, width, height, scale);
          const got = together(view(100 * scale, 50 * scale, 60, 40, scale), want);
          expect(got?.to).toEqual(show(want));
          if (width === 60) expect(got?.asked).toBe(60 * 40 - (60 - Math.abs(dx)) * (40 - Math.abs(dy)));
        }
  });

  it("is nothing at another scale, between pixels, far away or where little would be left", () => {
    expect(taken(view(0, 0, 60, 40), view(0, 0, 60, 40, 1.01))).toBeUndefined();
    expect(taken(view(0, 0, 60, 40), view(0.5, 0, 60, 40))).toBeUndefined();
    expect(taken(view(0, 0, 60, 40), view(60, 0, 60, 40))).toBeUndefined();
    expect(taken(view(0, 0, 60, 40), view(55, 0, 60, 40))).toBeUndefined();
  });
});
