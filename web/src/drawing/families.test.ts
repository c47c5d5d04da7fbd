import { describe, expect, it } from "vitest";
import type { Document, Part } from "../api/client";
import { moved, regathered, withFamily } from "./families";

const family = (id: string, name: string, ...members: string[]): Part => ({ id, name, unnamed: true, picks: [], target: {}, settings: {}, family: { main: members[0] ?? "", members: members.map((colour) => ({ colour, count: 1, area: 1 })) } }) as unknown as Part;
const of = (d: Document) => d.parts.map((p) => `${p.name}: ${p.family?.members.map((m) => m.colour).join(" ")}`);

describe("regathered", () => {
  it("keeps targets, names and rows where the main colour is the same", () => {
    const d: Document = { parts: [{ ...family("a", "Sails", "#111111", "#222222"), unnamed: undefined, target: { css: "#ff0000" } }, family("b", "Red", "#990000")] };
    const next = regathered(d, [family("x", "Black", "#111111"), family("y", "Grey", "#222222"), family("z", "Red", "#990000")]);
    expect(next.parts[0]).toMatchObject({ id: "a", name: "Sails", unnamed: undefined, target: { css: "#ff0000" }, family: { main: "#111111", held: false } });
    expect(next.parts[1]).toMatchObject({ id: "y", name: "Grey", unnamed: true, target: {} });
    expect(next.parts[2]).toMatchObject({ id: "b", name: "Red", unnamed: true });
  });

  it("keeps a target where the coloured family's main colour goes into a larger one, and gives nobody's id twice", () => {
    const d: Document = { parts: [{ ...family("a", "Sails", "#222222"), target: { css: "#ff0000" } }] };
    const next = regathered(d, [family("x", "Black", "#111111", "#222222"), family("y", "Grey", "#333333", "#222222")]);
    expect(next.parts.map((p) => p.target.css)).toEqual(["#ff0000", "#ff0000"]);
    expect(next.parts.map((p) => p.id)).toEqual(["a", "y"]);
    expect(new Set(next.parts.map((p) => p.name)).size).toBe(2);
  });
});

describe("moved", () => {
  const d: Document = { parts: [family("a", "Red", "#990000", "#aa0000"), family("b", "Blue", "#000099")] };
  it("takes a colour out of one family and puts it into another", () => {
    expect(of(moved(d, ["#aa0000"], "b", ""))).toEqual(["Red: #990000", "Blue: #000099 #aa0000"]);
  });
  it("makes a family of its own, first in the list", () => {
    const next = moved(d, ["#990000"], undefined, "fresh");
    expect(of(next)).toEqual(["Picked: #990000", "Red: #aa0000", "Blue: #000099"]);
    expect(next.parts[0]).toMatchObject({ id: "fresh", unnamed: true, family: { main: "#990000" } });
    expect(next.parts[1]?.family?.main).toBe("#aa0000"); // the main colour has gone
  });
  it("leaves out a family that has nothing any more", () => {
    expect(of(moved(d, ["#990000", "#aa0000"], "b", ""))).toEqual(["Blue: #000099 #990000 #aa0000"]);
  });
  it("leaves colours where they are elsewhere, where it is limited to boards or to fills", () => {
    const next = moved(d, ["#990000"], undefined, "fresh", { prop: "fill" });
    expect(of(next)).toEqual(["Picked: #990000", "Red: #990000 #aa0000", "Blue: #000099"]);
    expect(next.parts[0]?.family?.prop).toBe("fill");
  });
});

it("withFamily changes that one", () => {
  const d: Document = { parts: [family("a", "Red", "#990000"), family("b", "Blue", "#000099")] };
  const next = withFamily(d, "b", { held: true });
  expect(next.parts.map((p) => p.family?.held)).toEqual([undefined, true]);
  expect(next.parts[0]).toBe(d.parts[0]);
});
