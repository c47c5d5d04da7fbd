import { describe, expect, it } from "vitest";
import { firstPattern, follow, inPerspective, middleOf, movedBy, nodesOf, onCloth, onlyColours, pushedBy, takenOut, withGrid, withNodes, withTaken, withTile } from "./patterns";

const first = firstPattern("stripes", 1800, { css: "#ffffff" });
const picture = { width: 1800, height: 1200 };

describe("a pattern", () => {
  it("begins as large as the picture asks for, and keeps as many colours as its tile has figures", () => {
    expect(first).toEqual({ lay: { tile: "stripes", share: 50, size: 90, offset: [0, 0], folds: 25, strength: 100 }, colours: [{ css: "#ffffff" }] });
    const three = { ...first, colours: [{ css: "#111111" }, { css: "#222222" }, { css: "#333333" }] };
    expect(withTile(three, "checks").colours).toHaveLength(2);
    expect(withTile(three, "dots")).toEqual({ ...three, lay: { ...three.lay, tile: "dots" } });
  });
  it("takes a tile from a picture with its colours, by the palette's names, and lets go of it", () => {
    const palette = [{ id: "lamp", name: "Lamp amber", css: "#d9a441", tolerance: 2, hex: "#d9a441" }];
    const drawn = withTaken(undefined, { file: "f".repeat(64), colours: ["#1d6a72", "#D9A441"], width: 480, height: 480 }, palette, 1800);
    expect(drawn.lay).toMatchObject({ tile: "drawn", file: "f".repeat(64), figures: 2, size: 225 });
    expect(drawn.colours).toEqual([{ css: "#1d6a72" }, { css: "#d9a441", palette_id: "lamp", tolerance: 2 }]);
    expect(withTaken(first, { file: "0".repeat(64), colours: ["#000000"], width: 9, height: 9 }, [], 1800).lay.size).toBe(first.lay.size);
    const back = withTile(drawn, "dots");
    expect(back.lay).not.toHaveProperty("file");
    expect(back.lay).not.toHaveProperty("figures");
    expect(back.colours).toHaveLength(2);
  });
  it("is moved as far as the hand goes, in the picture or on the cloth", () => {
    expect(movedBy(first.lay, [10, 10], [25.04, 4]).offset).toEqual([15, -6]);
    const cloth = inPerspective(first.lay, true, picture);
    expect(movedBy(cloth, [0, 0], [60, 0]).offset).toEqual([100, 0]);
  });
  it("is pushed by strokes, one after the other, and by a click not at all", () => {
    const once = pushedBy(first.lay, { radius: 50.04, points: [[10, 10], [12, 10], [40, 20], [44, 20]] });
    expect(once.pushes).toEqual([{ radius: 50, points: [[10, 10], [40, 20], [44, 20]] }]);
    expect(pushedBy(once, { radius: 1, points: [[0, 0], [9, 0]] }).pushes).toHaveLength(2);
    expect(pushedBy(once, { radius: 1, points: [[0, 0], [9, 0]] }).pushes?.[1]?.radius).toBe(2);
    expect(pushedBy(once, { radius: 50, points: [[10, 10], [10.2, 10]] })).toBe(once);
  });
  it("lies round an upright thing in perspective alone", () => {
    const round = { ...inPerspective(first.lay, true, picture), round: 60, above: 20 };
    expect(inPerspective(round, false, picture)).toEqual(first.lay);
  });
  it("lies on a grid that is at rest where the perspective has it", () => {
    const trapeze: [number, number][] = [[100, 0], [200, 0], [300, 300], [0, 300]];
    // The middle of a square is where its diagonals cross.
    expect(onCloth(trapeze, 0.5, 0.5).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([150, 75]);
    expect(onCloth(trapeze, 1, 1)).toEqual([300, 300]);
    const cloth = { ...inPerspective(first.lay, true, picture), corners: trapeze };
    const gridded = withGrid(cloth, true);
    const nodes = nodesOf(gridded) ?? [];
    expect(nodes).toHaveLength(16);
    expect([0, 3, 12, 15].map((i) => nodes[i])).toEqual([[100, 0], [200, 0], [0, 300], [300, 300]]);
    expect(withNodes(gridded, nodes)).toEqual(gridded);
    const pulled = withNodes(gridded, nodes.map((n, i) => (i === 3 || i === 6 ? [n[0] + 5, n[1] + 7] : n)));
    expect(pulled.corners?.[1]).toEqual([205, 7]);
    expect(pulled.grid?.map((n, i) => n[0] !== gridded.grid?.[i]?.[0])).toEqual([...Array<boolean>(4).fill(false), true, ...Array<boolean>(7).fill(false)]);
    expect(withGrid(pulled, false)).toEqual({ ...cloth, corners: pulled.corners });
    expect(inPerspective(pulled, false, picture)).not.toHaveProperty("grid");
    expect(nodesOf(first.lay)).toBeUndefined();
  });
  it("has repeats as large in perspective as before, and again after", () => {
    const cloth = inPerspective(first.lay, true, picture);
    expect(cloth.corners).toEqual([[600, 300], [1200, 300], [1200, 900], [600, 900]]);
    expect(cloth.size).toBe(150);
    const back = inPerspective(cloth, false, picture);
    expect(back).toEqual(first.lay);
  });
  it("comes into perspective where the part is, and inside the picture", () => {
    const stroke = (points: number[][]) => ({ radius: 9, points });
    const middle = middleOf([
      { kind: "sweep", join: "add", strokes: [stroke([[400, 500], [600, 500]])] },
      { kind: "sweep", join: "subtract", strokes: [stroke([[1700, 1100]])] },
    ]);
    expect(middle).toEqual([500, 500]);
    expect(inPerspective(first.lay, true, picture, undefined, middle).corners?.[0]).toEqual([200, 200]);
    expect(inPerspective(first.lay, true, picture, undefined, [10, 1190]).corners?.[3]).toEqual([0, 1200]);
    expect(middleOf([{ kind: "subject", join: "add" }])).toBeUndefined();
  });
  it("lets the picture's own colours follow where one is added or taken out in a colourway", () => {
    const [a, b, c] = [{ css: "#111111" }, { css: "#222222" }, { css: "#333333" }];
    expect(takenOut([a, b, c], [a, c])).toBe(1);
    expect(takenOut([a, b], [a])).toBe(1);
    expect(follow(["x", "y", "z"], ["a", "b", "c"], ["b", "c"])).toEqual(["y", "z"]);
    expect(follow(["x", "y"], ["a", "b"], ["a", "b", "new"])).toEqual(["x", "y", "new"]);
    expect(follow(["x", "y"], ["a", "b"], ["a", "b"])).toEqual(["x", "y"]);
  });
  it("knows whether only its colours are others", () => {
    expect(onlyColours(first, { ...first, colours: [{ css: "#000000" }] })).toBe(true);
    expect(onlyColours(first, { ...first, lay: { ...first.lay, angle: 5 } })).toBe(false);
    expect(onlyColours(undefined, first)).toBe(false);
  });
});
