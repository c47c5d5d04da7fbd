import { describe, expect, it } from "vitest";
import { KeyCursor } from "./keyCursor";

/** A canvas of 400 x 300 at 10, 20 of the page that writes down which pointer events come to it. */
function stage() {
  const said: string[] = [];
  const pans: [number, number][] = [];
  class Said { constructor(public type: string, public init: PointerEventInit) {} }
  Object.assign(globalThis, { PointerEvent: Said });
  const canvas = {
    clientWidth: 400, clientHeight: 300,
    getBoundingClientRect: () => ({ left: 10, top: 20 }),
    dispatchEvent: (e: Said) => said.push(`${e.type.replace("pointer", "")} ${e.init.clientX} ${e.init.clientY}${e.init.buttons ? " pressed" : ""}`),
  };
  const cursor = new KeyCursor(canvas as unknown as HTMLCanvasElement, (x, y) => pans.push([x, y]));
  const press = (key: string, does: "moves the picture" | "draws" | "clicks", more: Partial<KeyboardEvent> = {}) => cursor.key({ key, ...more } as KeyboardEvent, does);
  return { said, pans, cursor, press };
}

describe("the pointer of the keys", () => {
  it("begins in the middle, goes ten pixels, and one with Shift", () => {
    const { said, press } = stage();
    press("ArrowRight", "draws");
    press("ArrowUp", "draws", { shiftKey: true });
    expect(said).toEqual(["move 220 170", "move 220 169"]);
  });
  it("shows where it is before it presses, and lifts with the same key", () => {
    const { said, cursor, press } = stage();
    press("Enter", "draws");
    press("Enter", "draws");
    press("ArrowDown", "draws");
    expect(cursor.pressing).toBe(true);
    press("Enter", "draws", { repeat: true }); // a key that is held presses once
    press("Enter", "draws");
    expect(said).toEqual(["move 210 170", "down 210 170 pressed", "move 210 180 pressed", "up 210 180"]);
  });
  it("breaks a stroke off", () => {
    const { said, cursor, press } = stage();
    expect(press("Escape", "draws")).toBe(false); // nothing to break off: it means something else
    press("Enter", "draws");
    press("Enter", "draws");
    expect(press("Escape", "draws")).toBe(true);
    expect(said.at(-1)).toMatch(/^cancel/);
    expect(cursor.pressing).toBe(false);
  });
  it("clicks once at a place; once more there ends what is being made", () => {
    const { said, press } = stage();
    press("Enter", "clicks");
    expect(press("Enter", "clicks")).toBe(true);
    expect(press("Enter", "clicks")).toBe(false);
    press("ArrowLeft", "clicks");
    expect(press("Enter", "clicks")).toBe(true);
    expect(said.filter((s) => s.startsWith("down"))).toHaveLength(2);
  });
  it("brings the picture along at the stage's edge, and moves it where no tool is at hand", () => {
    const { pans, cursor, press } = stage();
    for (let i = 0; i < 40; i++) press("ArrowRight", "draws");
    expect(cursor.at).toEqual({ x: 376, y: 150 });
    expect(pans.length).toBeGreaterThan(0);
    expect(pans.every(([x]) => x < 0)).toBe(true);
    pans.length = 0;
    expect(press("ArrowLeft", "moves the picture")).toBe(true);
    expect(press("ArrowLeft", "draws", { ctrlKey: true, shiftKey: true })).toBe(true);
    expect(pans.map((p) => p.map(Math.abs))).toEqual([[60, 0], [10, 0]]);
    expect(pans.every(([x]) => x > 0)).toBe(true);
    expect(press("Enter", "moves the picture")).toBe(false);
  });
});
