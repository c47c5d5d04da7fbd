import { describe, expect, it } from "vitest";
import { Viewport, type Placement } from "./viewport";

const stage = { width: 800, height: 600 };
const made = (whole = false, x = 0, y = 0) => {
  const seen: Placement[] = [];
  return { port: new Viewport(() => ({ x, y, width: 400, height: 400 }), { least: 0.01, most: 32, whole }, (at) => seen.push(at)), seen };
};
/** Where a place of what is shown lies on the stage. */
const spot = (port: Viewport, px: number, py: number, x = 0, y = 0) => [port.at.left + (px - x) * port.at.zoom, port.at.top + (py - y) * port.at.zoom];

describe("a viewport", () => {
  it("fits all of it into the middle, and a box into the middle", () => {
    const { port, seen } = made(false, 100, -50);
    port.fit(stage, 50);
    expect(port.fitted).toBe(true);
    expect(port.at).toEqual({ zoom: 1.25, left: 150, top: 50 });
    port.show({ x: 200, y: 0, width: 100, height: 50 }, stage, 0);
    expect(port.fitted).toBe(false);
    expect(spot(port, 250, 25, 100, -50)).toEqual([400, 300]);
    expect(port.at.zoom).toBe(8);
    port.fit(stage, 0, 1);
    expect(port.at.zoom).toBe(1);
    expect(seen).toHaveLength(3);
  });
  it("zooms around the place that it is told, within its bounds", () => {
    const { port } = made();
    port.fit(stage, 0);
    const before = [(130 - port.at.left) / port.at.zoom, (470 - port.at.top) / port.at.zoom] as const;
    port.zoomAt(7, 130, 470);
    spot(port, ...before).forEach((v, i) => expect(v).toBeCloseTo([130, 470][i] ?? 0));
    port.zoomAt(1000, 0, 0);
    expect(port.at.zoom).toBe(32);
    port.zoomAt(0, 0, 0);
    expect(port.at.zoom).toBe(0.01);
  });
  it("follows two fingers in one go: what lies between them stays there", () => {
    const { port, seen } = made();
    port.fit(stage, 0);
    const between = [(300 - port.at.left) / port.at.zoom, (200 - port.at.top) / port.at.zoom] as const;
    const before = seen.length;
    port.pinch({ x: 340, y: 170, dx: 40, dy: -30, apart: 1.5 });
    expect(seen).toHaveLength(before + 1);
    spot(port, ...between).forEach((v, i) => expect(v).toBeCloseTo([340, 170][i] ?? 0));
    expect(port.at.zoom).toBeCloseTo(2.25);
  });
  it("moves nothing before anything is shown, and is fitted then all the same", () => {
    const { port, seen } = made();
    port.panBy(5, 5);
    port.zoomAt(2, 10, 10);
    expect(seen).toEqual([]);
    expect(port.fitted).toBe(true);
  });
  it("lies on whole pixels where that is asked, and brings a place to the middle", () => {
    const { port } = made(true);
    port.fit({ width: 801, height: 601 }, 0, 1.37);
    port.panBy(0.3, 0.4);
    expect([port.at.left, port.at.top].every(Number.isInteger)).toBe(true);
    port.centre(10, 20, stage, 2);
    expect(port.at).toEqual({ zoom: 2, left: 380, top: 260 });
  });
});
