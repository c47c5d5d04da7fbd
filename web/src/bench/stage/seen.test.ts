import { describe, expect, it, vi } from "vitest";
import { Seen, type Exact } from "./seen";

const look = (key: string, pixels = 100): Exact & { closed: () => boolean } => {
  const close = vi.fn();
  return { frame: { bitmap: { close } as unknown as ImageBitmap, x: 0, y: 0, w: 1, h: 1, key }, of: "it", size: { width: pixels, height: 1 }, closed: () => close.mock.calls.length === 1 };
};

describe("looks that were seen", () => {
  it("are remembered up to so many pixels; those seen longest ago go first, and are closed", () => {
    const s = new Seen(250, () => false);
    const [a, b, c] = [look("a"), look("b"), look("c")];
    s.put("a", a);
    s.put("b", b);
    expect(s.get("a")?.frame).toBe(a.frame); // seen again
    s.put("c", c);
    expect([a.closed(), b.closed(), c.closed()]).toEqual([false, true, false]);
    expect(s.get("b")).toBeUndefined();
    expect(s.get("a")?.frame).toBe(a.frame);
  });
  it("hold the last one, however large, and none where they shall hold nothing", () => {
    const s = new Seen(1, () => false);
    const [a, b] = [look("a"), look("b")];
    s.put("a", a);
    expect(s.get("a")?.frame).toBe(a.frame);
    s.put("b", b);
    expect(a.closed()).toBe(true);
    expect(s.get("b")?.frame).toBe(b.frame);
    const none = new Seen(0, () => false);
    none.put("c", look("c"));
    expect(none.get("c")).toBeUndefined();
  });
  it("are not closed while they are drawn from", () => {
    const [a, b] = [look("a"), look("b")];
    const s = new Seen(100, (f) => f === a.frame);
    s.put("a", a);
    s.put("b", b);
    expect(a.closed()).toBe(false);
    expect(s.has(a.frame)).toBe(false);
    s.clear();
    expect(b.closed()).toBe(true);
  });
  it("are forgotten after a while", () => {
    const s = new Seen(1000, () => false);
    const now = vi.spyOn(performance, "now");
    now.mockReturnValue(1000);
    s.put("b", look("b"));
    now.mockReturnValue(60_000);
    expect(s.get("b")).toBeDefined();
    expect(s.of("it")).toHaveLength(1);
    expect(s.of("else")).toHaveLength(0);
    now.mockReturnValue(62_000);
    expect(s.get("b")).toBeUndefined();
    expect(s.of("it")).toHaveLength(0);
    now.mockRestore();
  });
});
