import { describe, expect, it } from "vitest";
import type { Pick } from "../../api/client";
import { current, reachAt, reachSteps, strokeJoin, together, withReach } from "./gestures";

const sweep = (more: Partial<Pick> = {}): Pick => ({ kind: "sweep", join: "add", strokes: [], ...more });
const brush = { kind: "brush", join: "add", strokes: [] } as unknown as Pick;

describe("gestures", () => {
  it("go into the pick that is open, or else the last, where it is of the kind and at work", () => {
    expect(current([sweep(), brush], undefined, "brush")).toBe(1);
    expect(current([sweep(), brush], 0, "sweep")).toBe(0);
    expect(current([sweep(), brush], undefined, "sweep")).toBeUndefined();
    expect(current([sweep({ off: true })], undefined, "sweep")).toBeUndefined();
  });
  it("take sweeps together that follow each other, but for those only where both", () => {
    const picks = [brush, sweep(), sweep({ join: "subtract" }), sweep({ join: "intersect" }), sweep()];
    expect(together(picks, 1)).toEqual([1, 2]);
    expect(together(picks, 2)).toEqual([1, 2]);
    expect(together(picks, 4)).toEqual([4, 4]);
  });
  it("set the reach of all of them, which is found again", () => {
    const picks = [sweep(), sweep({ join: "subtract" }), brush, sweep()];
    for (let steps = -reachSteps; steps <= reachSteps; steps++) {
      const next = withReach(picks, 1, steps);
      expect(reachAt(next, 0)).toBe(steps);
      expect(next[3]).toEqual(picks[3]);
      const r = next[0]?.reach;
      expect(r === undefined || (r >= 0 && r <= 1)).toBe(true);
    }
    expect(withReach(picks, 0, 99)[0]?.reach).toBe(1);
  });
  it("turn adding and taking away with Alt", () => {
    expect([strokeJoin("add", false), strokeJoin("add", true), strokeJoin("subtract", true), strokeJoin("intersect", true)]).toEqual(["add", "subtract", "add", "subtract"]);
  });
});
