import { describe, expect, test } from "vitest";
import { at, byKey, cssOf, harmonies, planeChroma, polarOf } from "./polar";
import { chose, recentColours } from "./recent";

describe("a colour by lightness, chroma and hue", () => {
  test("is written in the percentages of CSS Color 4", () => {
    expect(cssOf(polarOf([0.5, 0.1, 187.256]))).toBe("oklch(50% 25% 187.26)"); // 100 % of chroma is 0.4
  });
  test("a grey keeps the hue that was set", () => {
    const before = { l: 40, c: 20, h: 187 };
    expect(polarOf([0.4, 0.0001, 0], before).h).toBe(187);
    expect(polarOf([0.4, 0.1, 12], before).h).toBe(12);
  });
  test("lies where the plane shows it, and stays on the plane", () => {
    const p = { l: 50, c: 10, h: 30 };
    expect(at(p, 0, 0)).toEqual({ l: 100, c: 0, h: 30 });
    expect(at(p, 1, 1)).toEqual({ l: 0, c: planeChroma, h: 30 });
    expect(at(p, 1.4, -0.2)).toEqual({ l: 100, c: planeChroma, h: 30 });
  });
  test("keys move it, and nothing else does", () => {
    const p = { l: 99.5, c: 0.4, h: 30 };
    expect(byKey(p, "ArrowUp", false)).toEqual({ l: 100, c: 0.4, h: 30 });
    expect(byKey(p, "ArrowLeft", true)).toEqual({ l: 99.5, c: 0, h: 30 });
    expect(byKey(p, "ArrowRight", true)?.c).toBeCloseTo(10.4);
    expect(byKey(p, "ArrowDown", false)?.l).toBeCloseTo(98.5);
    expect(byKey(p, "Tab", false)).toBeUndefined();
  });
  test("harmonies turn the hue and nothing else", () => {
    const all = harmonies({ l: 50, c: 30, h: 20 }).map((x) => x.css);
    expect(all).toEqual(["oklch(50% 30% 350)", "oklch(50% 30% 50)", "oklch(50% 30% 140)", "oklch(50% 30% 260)", "oklch(50% 30% 200)"]);
  });
});

describe("colours chosen last", () => {
  test("the newest first, each once, at most five, whatever is stored", () => {
    const kept = new Map<string, string>();
    const storage = { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => void kept.set(k, v) };
    Object.defineProperty(globalThis, "localStorage", { value: storage, configurable: true });
    for (let i = 0; i < 15; i++) chose(`#00000${(i % 14).toString(16)}`);
    expect(recentColours()).toHaveLength(5);
    expect(recentColours()[0]).toBe("#000000");
    kept.set("episema.recent-colours", '{"no":"list"}');
    expect(recentColours()).toEqual([]);
    kept.set("episema.recent-colours", '["#fff", 7, null]');
    expect(recentColours()).toEqual(["#fff"]);
    kept.set("episema.recent-colours", "][");
    expect(recentColours()).toEqual([]);
  });
});
