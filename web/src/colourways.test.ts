import { describe, expect, it } from "vitest";
import type { Colourway, Document, Swatch } from "./api/client";
import { inColourway, inPalette, isIn, movedCells, rowOf, withCell } from "./colourways";

const cell = (css: string) => ({ target: { css } });
const way = (cells: Colourway["cells"]): Colourway => ({ id: "w", name: "W", cells });

describe("rows", () => {
  it("are one for parts of one name that somebody gave, and one for each part that nobody named", () => {
    expect(rowOf({ id: "a", name: " Body ", unnamed: undefined })).toBe("Body");
    expect(rowOf({ id: "a", name: "Body", unnamed: true })).toBe("#a");
    expect(isIn({ key: "Body" }, { id: "x", name: "Body" })).toBe(true);
    expect(isIn({ key: "#a" }, { id: "b", name: "a" })).toBe(false);
  });

  it("colour a document as the server's core does", () => {
    const doc = { parts: [{ id: "a", name: " Body ", target: {}, settings: { strength: 1 } }, { id: "b", name: "Body", unnamed: true, target: {} }, { id: "c", name: "Body", unnamed: true, target: {} }] } as unknown as Document;
    const shown = inColourway(doc, way({ Body: { ...cell("#111111"), settings: { strength: 2 } } as Colourway["cells"][string], "#b": cell("#222222") }));
    expect(shown.parts.map((p) => p.target.css)).toEqual(["#111111", "#222222", undefined]);
    expect(shown.parts[0]?.settings.strength).toBe(2);
    expect(inColourway(doc, undefined)).toBe(doc);
  });

  it("have the palette's colours as they stand, and what has them already is not touched", () => {
    const named = (css: string) => ({ css, palette_id: "teal", tolerance: 2 });
    const doc = { parts: [{ id: "a", name: "A", target: named("#111111"), pattern: { colours: [{ css: "#222222" }, named("#111111")] } }, { id: "b", name: "B", target: { css: "#333333" } }, { id: "c", name: "C", target: { palette_id: "teal" } }] } as unknown as Document;
    const palette = (css: string, tolerance = 2) => [{ id: "teal", name: "Teal", css, tolerance }] as Swatch[];
    expect(inPalette(doc, undefined)).toBe(doc);
    expect(inPalette(doc, palette("#111111"))).toBe(doc);
    const seen = inPalette(doc, palette("#1d6a72", 1));
    expect(seen.parts[0]?.target).toEqual({ css: "#1d6a72", palette_id: "teal", tolerance: 1 });
    expect(seen.parts[0]?.pattern?.colours.map((c) => c.css)).toEqual(["#222222", "#1d6a72"]);
    expect(seen.parts[1]).toBe(doc.parts[1]);
    expect(seen.parts[2]).toBe(doc.parts[2]); // left as it is
    expect(doc.parts[0]?.target.css).toBe("#111111");
  });

  it("keep what a part became when it gets a name, and never take that of another", () => {
    const [to, taken] = movedCells([way({ "#a": cell("#111111") }), way({ "#a": cell("#111111"), Body: cell("#222222") })], "#a", "Body");
    expect(to?.cells.Body?.target.css).toBe("#111111");
    expect(to?.cells["#a"]?.target.css).toBe("#111111"); // undo of the name finds it
    expect(taken?.cells.Body?.target.css).toBe("#222222");
  });

  it("keep a pattern's colours where a cell is set anew without any, and not where it is cleared", () => {
    const w = way({ a: { ...cell("#111111"), pattern: [{ css: "#abcdef" }] } });
    expect(withCell(w, "a", cell("#222222")).cells.a).toEqual({ target: { css: "#222222" }, pattern: [{ css: "#abcdef" }] });
    expect(withCell(w, "a", { ...cell("#222222"), pattern: [{ css: "#000000" }] }).cells.a?.pattern).toEqual([{ css: "#000000" }]);
    expect(withCell(withCell(w, "a", undefined), "a", cell("#222222")).cells.a?.pattern).toBeUndefined();
  });

  it("lose a cell that is cleared, and nothing else", () => {
    const w = way({ a: cell("#111111"), b: cell("#222222") });
    expect(Object.keys(withCell(w, "a", undefined).cells)).toEqual(["b"]);
    expect(withCell(w, "c", cell("#333333")).cells.c?.target.css).toBe("#333333");
    expect(Object.keys(w.cells)).toEqual(["a", "b"]);
  });
});
