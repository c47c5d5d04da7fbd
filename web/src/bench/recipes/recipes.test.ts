import { describe, expect, it } from "vitest";
import type { Part, Recipe } from "../../api/client";
import { newPart } from "../parts";
import { joined, onto, recipeOf } from "./recipes";

const part: Part = {
  ...newPart("Scarf"),
  target: { css: "#1d6a72", palette_id: "p1", tolerance: 2 },
  settings: { shade_depth: 5, highlights: 100, strength: 80, only_own: 30, rebuild: { amount: 100, light: 0, slope: 0, grain: 100, away: [{ radius: 4, points: [[1, 2]] }] } },
  cast: { amount: 50, reach: 90 },
};

describe("a recipe", () => {
  it("keeps the way of recolouring, and nothing that is of one picture or palette", () => {
    const r = recipeOf(part, " Teal cloth ", []);
    expect(r).toEqual({ id: r.id, name: "Teal cloth", target: { css: "#1d6a72", tolerance: 2 }, settings: { ...part.settings, rebuild: { amount: 100, light: 0, slope: 0, grain: 100 } }, cast: part.cast });
    expect(part.settings.rebuild?.away).toHaveLength(1); // the part is as it was
  });
  it("goes onto another part without its selection, and takes a cast away that it has not", () => {
    const other: Part = { ...newPart("Cap"), own: "#222222", picks: [{ kind: "subject", join: "add" }], cast: { amount: 9, reach: 9 } };
    const r: Recipe = { ...recipeOf(part, "a", []), cast: undefined };
    expect({ ...other, ...onto(r) }).toEqual({ ...other, target: r.target, settings: r.settings, cast: undefined });
  });
  it("has a name of its own beside others", () => {
    expect(recipeOf(part, "Teal", [{ ...recipeOf(part, "Teal", []) }]).name).toBe("Teal 2");
    const list = joined([{ ...recipeOf(part, "a", []) }], [recipeOf(part, "a", []), recipeOf(part, "a", [])], ["x", "y"]);
    expect(list.map((r) => r.name)).toEqual(["a", "a 2", "a 3"]);
    expect(list.slice(1).map((r) => r.id)).toEqual(["x", "y"]);
  });
});
