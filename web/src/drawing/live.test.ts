import { describe, expect, it } from "vitest";
import { random } from "../testing/random";
import { changes, Shares } from "./live";

const rgba = (r: number, g: number, b: number) => (0xff000000 | (b << 16) | (g << 8) | r) | 0;
const of = (v: number) => [v & 255, (v >> 8) & 255, (v >> 16) & 255];

describe("live shares", () => {
  it("change each pixel by its shares of each colour, within one code value", () => {
    const r = random(9);
    const colours = ["#101010", "#808080", "#c0c0c0", "#204060", "#f0f0f0"];
    const n = 400;
    // Shares that add up to at most one; three colours to a sheet of the view's size.
    const share = Array.from({ length: n }, () => {
      let left = 255;
      return colours.map(() => { const v = r() < 0.5 ? 0 : Math.floor(r() * left); left -= v; return v; });
    });
    const data = new Uint8ClampedArray(4 * n * 2);
    share.forEach((s, i) => s.forEach((v, k) => { data[4 * (n * Math.floor(k / 3) + i) + (k % 3)] = v; }));
    const shares = new Shares({ data, width: n, height: 2 } as unknown as ImageData, colours, n);
    const from = Int32Array.from({ length: n }, () => rgba(Math.floor(r() * 256), Math.floor(r() * 256), Math.floor(r() * 256)));
    const to = from.slice();
    const by = new Map<string, readonly [number, number, number]>([["#808080", [100, -60, 7]], ["#f0f0f0", [-200, 30, 90]]]);
    shares.apply(by, from, to);
    for (let i = 0; i < n; i++) {
      const want = of(from[i] as number).map((v, c) => colours.reduce((s, q, k) => s + ((by.get(q)?.[c] ?? 0) * (share[i]?.[k] ?? 0)) / 255, v));
      of(to[i] as number).forEach((v, c) => expect(Math.abs(v - Math.max(0, Math.min(255, want[c] ?? 0)))).toBeLessThanOrEqual(1));
    }
    expect(shares.has("#808080")).toBe(true);
    expect(shares.has("#123456")).toBe(false);
  });

  it("are told what changed of a family's colours, red, green and blue apart", () => {
    const was = { id: "a", from: ["#102030", "#405060"], to: ["#112233", "#405060"] };
    const is = { id: "a", from: ["#102030", "#405060"], to: ["#213243", "#405060"] };
    expect([...(changes(was, is) ?? [])]).toEqual([["#102030", [16, 16, 16]]]);
    expect([...(changes(undefined, { id: "a", from: ["#102030"], to: ["#ff2030"] }) ?? [])]).toEqual([["#102030", [239, 0, 0]]]);
    expect(changes(was, { ...is, to: ["lab(50 0 0)", "#405060"] })).toBeUndefined();
  });
});
