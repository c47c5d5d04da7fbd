import { describe, expect, it } from "vitest";
import { arrived, Line } from "./line";

const view = { x: 0, y: 0, w: 1800, h: 1200, width: 900, height: 600, show: "picture" as const };

describe("the line", () => {
  it("is fast until it is known to be slow, and again once it is", () => {
    const l = new Line();
    expect(l.slow).toBe(false);
    l.came({ bytes: 700_000, seconds: 0.6 });
    expect(l.slow).toBe(true);
    for (let i = 0; i < 3; i++) l.came({ bytes: 2_100_000, seconds: 0.03 });
    expect(l.slow).toBe(false);
  });
  it("is not judged by one slow answer among quick ones, nor by small ones", () => {
    const l = new Line();
    for (const seconds of [0.03, 0.9, 0.02, 0.03]) l.came({ bytes: 2_000_000, seconds });
    expect(l.slow).toBe(false);
    for (let i = 0; i < 9; i++) l.came({ bytes: 900, seconds: 0.2 });
    expect(l.slow).toBe(false);
  });
  it("is asked for as many bytes as come in time while a hand moves", () => {
    const at = (rate: number) => { const l = new Line(); l.came({ bytes: 100 * rate, seconds: 100 }); return l.moving(view); };
    expect(at(8e6)).toEqual({ ...view, as: "jpeg", quality: 75, width: 671, height: 447 });
    expect({ ...new Line().moving({ width: 300, height: 200 }) }).toEqual({ as: "jpeg", quality: 75, width: 300, height: 200 });
    expect(at(0.73e6)).toMatchObject({ quality: 75, width: 671 });
    expect(at(0.5e6)).toMatchObject({ quality: 45, width: 671 });
    const slowest = at(0.2e6);
    expect(slowest.quality).toBe(45);
    expect(slowest.width * slowest.height * 0.07).toBeLessThan(0.051 * 0.2e6);
    expect(slowest.width / slowest.height).toBeCloseTo(1.5, 1);
    expect(slowest).toMatchObject({ w: 1800, h: 1200 });
    expect(at(1000).width).toBe(225);
  });
  it("is guessed from the page's own files, which come side by side", () => {
    const file = (requestStart: number, responseStart: number, responseEnd: number, transferSize: number) => ({ requestStart, responseStart, responseEnd, transferSize });
    expect(arrived([])).toBeUndefined();
    expect(arrived([file(10, 20, 30, 0), file(0, 0, 90, 50_000)])).toBeUndefined();
    expect(arrived([file(10, 60, 65, 300), file(10, 11, 15, 0)])).toEqual({ bytes: 0, seconds: 0, soonest: 0.05 });
    expect(arrived([file(50, 100, 300, 200_000), file(160, 200, 400, 100_000), file(800, 900, 1000, 60_000)])).toEqual({ bytes: 360_000, seconds: 0.4, soonest: 0.04 });
  });
  it("is taken for slow where its files say so and it is long, or nothing but that is known", () => {
    const slow = (bytes: number, seconds: number, soonest: number) => new Line({ bytes, seconds, soonest }).slow;
    expect(slow(360_000, 0.4, 0.04)).toBe(true);
    expect(slow(360_000, 0.05, 0.04)).toBe(false);
    expect(slow(360_000, 0.4, 0.004)).toBe(false); // the page is busy
    expect(slow(0, 0, 0.06)).toBe(true);
    expect(slow(0, 0, 0.004)).toBe(false);
    const l = new Line({ bytes: 0, seconds: 0, soonest: 0.06 });
    expect(l.moving(view)).toMatchObject({ as: "jpeg", width: 671 });
    l.came({ bytes: 2_100_000, seconds: 0.03 });
    expect(l.slow).toBe(false);
  });
});
