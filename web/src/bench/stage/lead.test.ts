import { describe, expect, it } from "vitest";
import type { Document } from "../../api/client";
import { Lead } from "./lead";

const doc = (strength: number): Document => ({ parts: [{ id: "a", name: "A", picks: [], settings: { strength } }] }) as unknown as Document;
const page = (strength: number, moving = false) => ({ document: doc(strength), quick: false, moving, zoom: 1 });
const to = (strength: number) => ({ document: doc(strength), quick: false, moving: true });
const strength = (s: { document: Document }) => s.document.parts[0]?.settings.strength;

describe("a stage that goes ahead of its page", () => {
  it("is not taken back by a page that is late, which it follows in all else", () => {
    const lead = new Lead<ReturnType<typeof page>>();
    let shown = lead.ahead(page(1), to(2));
    shown = lead.ahead(shown, to(3));
    expect(strength(shown)).toBe(3);
    shown = lead.follow({ ...page(1), zoom: 4 }); // something else moved meanwhile
    expect([strength(shown), shown.zoom, shown.moving]).toEqual([3, 4, true]);
    shown = lead.follow(page(2, true));
    expect(strength(shown)).toBe(3);
  });

  it("stays where it came back to while the page is still on its way to what was passed", () => {
    const lead = new Lead<ReturnType<typeof page>>();
    const start = page(1);
    lead.follow(start);
    lead.ahead(lead.ahead(start, to(2)), to(1)); // there and back, and the page begins to follow there
    expect(strength(lead.follow({ ...start, zoom: 4 }))).toBe(1); // something else moved meanwhile
    expect(strength(lead.follow(page(2)))).toBe(1); // the page arrives
    expect(strength(lead.follow(page(1)))).toBe(1);
    expect(strength(lead.follow(page(2)))).toBe(2); // by itself
  });

  it("follows again once the page has caught up, back to where it was, too", () => {
    const lead = new Lead<ReturnType<typeof page>>();
    lead.ahead(lead.ahead(page(1), to(2)), to(3));
    expect(strength(lead.follow(page(3, true)))).toBe(3);
    expect(strength(lead.follow(page(1)))).toBe(1); // undone
    lead.ahead(lead.ahead(page(1), to(2)), to(1)); // dragged back to where it began
    expect(lead.follow(page(1)).moving).toBe(false);
  });

  it("follows a page that goes elsewhere", () => {
    const lead = new Lead<ReturnType<typeof page>>();
    lead.ahead(page(1), to(2));
    expect(strength(lead.follow(page(7)))).toBe(7);
    expect(strength(lead.follow(page(1)))).toBe(1);
  });
});
