import { describe, expect, it } from "vitest";
import type { Colourway, Document, Part } from "../api/client";
import { inColourway } from "../colourways";
import { newPart } from "./parts";
import { firstPattern } from "./pattern/patterns";
import { beside, changeOf } from "./ways";

const body: Part = { ...newPart("Body"), unnamed: undefined, target: { css: "#111111" }, pattern: { ...firstPattern("dots", 400, { css: "#aaaaaa" }), colours: [{ css: "#aaaaaa" }, { css: "#bbbbbb" }] } };
const stored: Document = { parts: [body] };
const way = (id: string, cells: Colourway["cells"]): Colourway => ({ id, name: id, cells });
const ways = [way("one", { Body: { target: { css: "#222222" }, pattern: [{ css: "#cccccc" }, { css: "#dddddd" }] } }), way("two", {})];
/** What a change comes to in a colourway, or as set. */
const change = (what: Partial<Part>, id?: string) => {
  const at = inColourway(stored, ways.find((w) => w.id === id)).parts[0];
  const c = changeOf(what, stored, at, ways, ways.find((w) => w.id === id));
  return { part: c.part, ways: c.ways?.(ways) };
};

describe("a change of a part", () => {
  it("is the picture's where no colourway is at hand", () => {
    expect(change({ target: { css: "#333333" } })).toEqual({ part: { target: { css: "#333333" } }, ways: undefined });
    expect(change({ picks: [] }, "two")).toEqual({ part: { picks: [] }, ways: undefined }); // so is what was selected, always
  });
  it("of its target or its method is the colourway's", () => {
    const c = change({ target: { css: "#333333" } }, "two");
    expect(c.part).toBeUndefined();
    expect(c.ways?.[1]?.cells.Body).toEqual({ target: { css: "#333333" }, settings: undefined });
    expect(c.ways?.[0]).toBe(ways[0]);
    const deep = { ...body.settings, shade_depth: 30 };
    expect(change({ settings: deep }, "two").ways?.[1]?.cells.Body).toEqual({ target: body.target, settings: deep });
    expect(change({ settings: body.settings }, "two").ways?.[1]?.cells.Body?.settings).toBeUndefined(); // as the picture has it
  });
  it("of both is divided", () => {
    const c = change({ target: { css: "#333333" }, own: "#444444" }, "two");
    expect(c.part).toEqual({ own: "#444444" });
    expect(c.ways?.[1]?.cells.Body?.target.css).toBe("#333333");
  });
  it("of the pattern's colours is the colourway's, of how it lies the picture's", () => {
    const p = body.pattern;
    if (!p) throw new Error("no pattern");
    const shown = { ...p, colours: [{ css: "#cccccc" }, { css: "#dddddd" }] };
    const c = change({ pattern: { ...shown, colours: [{ css: "#cccccc" }, { css: "#eeeeee" }] } }, "one");
    expect(c.part).toBeUndefined();
    expect(c.ways?.[0]?.cells.Body?.pattern?.map((t) => t.css)).toEqual(["#cccccc", "#eeeeee"]);
    const turned = change({ pattern: { ...shown, lay: { ...p.lay, angle: 30 } } }, "one");
    expect(turned.part?.pattern).toEqual({ lay: { ...p.lay, angle: 30 }, colours: p.colours }); // its own colours stay
    expect(turned.ways).toBeUndefined();
  });
  it("that takes a colour out of a pattern takes it out of every colourway", () => {
    const p = body.pattern;
    if (!p) throw new Error("no pattern");
    const c = change({ pattern: { ...p, colours: [{ css: "#bbbbbb" }] } });
    expect(c.part?.pattern?.colours).toEqual([{ css: "#bbbbbb" }]);
    expect(c.ways?.[0]?.cells.Body?.pattern).toEqual([{ css: "#dddddd" }]);
    expect(c.ways?.[1]).toBe(ways[1]);
  });
});

describe("what comes next of colourways", () => {
  const [a, b, c, d] = ["a", "b", "c", "d"].map((id) => way(id, {})) as [Colourway, Colourway, Colourway, Colourway];
  it("is what lies beside the one at hand, all around, and never that itself", () => {
    expect(beside([a, b, c, d], b)).toEqual([c, d, a]);
    expect(beside([a, b, c, d], d)).toEqual([undefined, a, c]);
    expect(beside([a, b, c, d], undefined)).toEqual([a, b, d]);
    expect(beside([a], a)).toEqual([undefined]);
    expect(beside([a, b], a)).toEqual([b, undefined]);
    expect(beside([], undefined)).toEqual([]);
  });
});
