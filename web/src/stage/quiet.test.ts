import { describe, expect, it, vi } from "vitest";
import { stageIs, stageQuiet, stageRests, still } from "./quiet";

describe("what waits for the stage", () => {
  it("goes on at once where it is quiet, and once it is where it is busy", async () => {
    await stageQuiet();
    stageIs(false);
    let on = 0;
    const both = Promise.all([stageQuiet().then(() => on++), stageQuiet().then(() => on++)]);
    await Promise.resolve();
    expect(on).toBe(0);
    stageIs(true);
    await both;
    expect(on).toBe(2);
    await stageQuiet();
  });

  it("waits until it has rested, however often it was busy in between", async () => {
    vi.useFakeTimers();
    let on = false;
    void stageRests().then(() => { on = true; });
    for (let n = 0; n < 5; n++) {
      await vi.advanceTimersByTimeAsync(still - 10);
      stageIs(false);
      await vi.advanceTimersByTimeAsync(2 * still);
      expect(on).toBe(false);
      stageIs(true);
    }
    await vi.advanceTimersByTimeAsync(still - 10);
    expect(on).toBe(false);
    await vi.advanceTimersByTimeAsync(20);
    expect(on).toBe(true);
    vi.useRealTimers();
  });
});
