import { describe, expect, it } from "vitest";
import { stageIs, stageQuiet } from "./quiet";

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
});
