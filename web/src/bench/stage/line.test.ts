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
    const file = (responseStart: number, responseEnd: number, transferSize: number) => ({ startTime: 0, responseStart, responseEnd, transferSize });
    expect(arrived([])).toBeUndefined();
    expect(arrived([file(10, 20, 0), file(0, 90, 50_000), file(10, 15, 300)])).toBeUndefined();
    expect(arrived([file(100, 300, 200_000), file(200, 400, 100_000), file(900, 1000, 60_000)])).toEqual({ bytes: 360_000, seconds: 0.4 });
    expect(new Line({ bytes: 360_000, seconds: 0.4 }).slow).toBe(true);
    expect(new Line({ bytes: 360_000, seconds: 0.05 }).slow).toBe(false);
  });
});
