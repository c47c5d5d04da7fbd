// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { StagePainter, type Scene } from "./painter";

const scene: Scene = {
  picture: { id: "p", width: 1800, height: 1200 }, document: { parts: [] }, way: "", beside: () => [], show: "picture", compare: "now", holding: false, loupe: false, tool: "sweep", size: 20, takeAway: false, ground: "#8a8a8a",
  quick: false, overlay: {}, moving: false,
};
const moved = (name: string) => ({ parts: [{ id: "a", name }] }) as unknown as Scene["document"];

let frames: (() => void)[] = [];
let drawings = 0;
const draw = () => { for (const f of frames.splice(0)) f(); };

beforeEach(() => {
  [frames, drawings] = [[], 0];
  vi.stubGlobal("requestAnimationFrame", (f: () => void) => frames.push(f));
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  vi.stubGlobal("PerformanceObserver", class { observe() { return; } });
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
});
afterEach(() => { vi.unstubAllGlobals(); });

function open() {
  const canvas = document.createElement("canvas");
  Object.assign(canvas, { width: 948, height: 722 });
  const g = new Proxy({}, { get: (_, what) => (what === "fillRect" ? () => { drawings++; } : () => undefined), set: () => true });
  canvas.getContext = (() => g) as never;
  const painter = new StagePainter(scene, () => undefined);
  painter.open(canvas, () => undefined);
  painter.fit();
  draw();
  return painter;
}

it("is drawn once for what a hand changes: when it comes", () => {
  const painter = open();
  expect(drawings).toBe(1);
  painter.ahead(moved("one"), true);
  draw();
  painter.follow({ ...scene, document: moved("one"), picture: { ...scene.picture }, overlay: {} });
  draw();
  expect(drawings).toBe(1);
});

it.each<[string, Partial<Scene>]>([
  ["the tool", { tool: "like" }], ["the tip", { size: 30 }], ["whether it takes away", { takeAway: true }], ["the ground", { ground: "#fff" }], ["the comparison", { compare: "split" }], ["V", { holding: true }],
  ["the loupe", { loupe: true }], ["what is shown", { show: "mask" }], ["the tint", { overlay: { tint: "#f00" } }],
])("is drawn anew where %s changes", (_, what) => {
  const painter = open();
  painter.follow({ ...scene, ...what });
  draw();
  expect(drawings).toBeGreaterThan(1);
});
