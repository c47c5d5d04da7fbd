import { describe, expect, it } from "vitest";
import { veil } from "./quickMask";

const image = (width: number, height: number, of: (x: number, y: number) => number): ImageData => {
  const data = new Uint8ClampedArray(4 * width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set([of(x, y), of(x, y), of(x, y), 255], 4 * (y * width + x));
  return { width, height, data, colorSpace: "srgb" } as unknown as ImageData;
};
const at = (i: ImageData, x: number, y: number) => [...i.data.slice(4 * (y * i.width + x), 4 * (y * i.width + x) + 4)];

describe("veil", () => {
  // White in a rectangle that is off the middle both ways, so that a mask that lies aside, turned or mirrored shows.
  const small = image(40, 30, (x, y) => (x >= 4 && x < 14 && y >= 18 && y < 27 ? 255 : 0));
  it("lies where the mask is, at another size", () => {
    const out = image(160, 120, () => 7);
    veil(small, out, { show: "mask" });
    for (const [x, y, want] of [[36, 90, 255], [20, 76, 255], [52, 104, 255], [100, 90, 0], [36, 30, 0], [8, 90, 0], [62, 90, 0], [36, 66, 0], [36, 114, 0]] as const) expect(at(out, x, y)[0], `${x} ${y}`).toBe(want);
    // The edge is half way, within half a pixel of the mask.
    for (const x of [14, 15, 16, 17]) expect(Math.abs((at(out, x, 90)[0] ?? 0) - 255 * Math.max(0, Math.min(1, (x + 0.5) / 4 - 3.5)))).toBeLessThan(3);
  });
  it("is a mean between the values of the mask", () => {
    const ramp = image(11, 4, (x) => 25 * x);
    const out = image(44, 16, () => 0);
    veil(ramp, out, { show: "mask" });
    for (let x = 4; x < 40; x++) expect(Math.abs((at(out, x, 8)[0] ?? 0) - 25 * ((x + 0.5) / 4 - 0.5))).toBeLessThan(2);
  });
  it("covers what is not selected with the tint, and leaves the rest", () => {
    const out = image(160, 120, () => 7);
    veil(small, out, { show: "tint", tint: "#102030", strength: 0.5 });
    expect(at(out, 100, 40)).toEqual([0x10, 0x20, 0x30, 127]);
    expect(at(out, 36, 90)[3]).toBe(0);
  });
});
