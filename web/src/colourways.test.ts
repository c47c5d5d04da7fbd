import { describe, expect, it } from "vitest";
import type { Colourway, Document } from "./api/client";
import { inColourway, isIn, movedCells, rowOf, withCell } from "./colourways";

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

  it("keep what a part became when it gets a name, and never take that of another", () => {
    const [to, taken] = movedCells([way({ "#a": cell("#111111") }), way({ "#a": cell("#111111"), Body: cell("#222222") })], "#a", "Body");
    expect(to?.cells.Body?.target.css).toBe("#111111");
    expect(to?.cells["#a"]?.target.css).toBe("#111111"); // undo of the name finds it
    expect(taken?.cells.Body?.target.css).toBe("#222222");
  });

  it("lose a cell that is cleared, and nothing else", () => {
    const w = way({ a: cell("#111111"), b: cell("#222222") });
    expect(Object.keys(withCell(w, "a", undefined).cells)).toEqual(["b"]);
    expect(withCell(w, "c", cell("#333333")).cells.c?.target.css).toBe("#333333");
    expect(Object.keys(w.cells)).toEqual(["a", "b"]);
  });
});
