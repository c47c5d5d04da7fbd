import { beforeEach, describe, expect, it, vi } from "vitest";

/** A browser's storage and its locks, as several tabs have them in common. */
class Stored {
  [key: string]: unknown;
  getItem = (k: string) => (k in this ? (this[k] as string) : null);
  setItem = (k: string, v: string) => { this[k] = v; };
  removeItem = (k: string) => { Reflect.deleteProperty(this, k); };
  constructor() {
    for (const k of ["getItem", "setItem", "removeItem"]) Object.defineProperty(this, k, { enumerable: false });
  }
}
const held = new Set<string>();
const locks = {
  request: (name: string, _: unknown, then: (lock: object | null) => unknown) => {
    const free = !held.has(name);
    if (free) held.add(name);
    then(free ? {} : null);
    return Promise.resolve();
  },
  query: () => Promise.resolve({ held: [...held].map((name) => ({ name })) }),
};

let local: Stored;

/** Opens a tab; session is what it has of its own, which a reload keeps and a duplicated tab begins with. */
async function tab(session = new Stored()) {
  vi.resetModules();
  vi.stubGlobal("localStorage", local);
  vi.stubGlobal("sessionStorage", session);
  vi.stubGlobal("navigator", { locks });
  const m = await import("./unsent");
  await m.named;
  const name = session.getItem("episema.tab") ?? "";
  return { ...m, session, name, close: () => held.delete(`episema.tab.${name}`) };
}
const work = (label: string) => ({ base: 3, waiting: [{ label, document: { parts: [] } }] });

describe("unsent work", () => {
  beforeEach(() => {
    local = new Stored();
    held.clear();
  });

  it("is found again by its tab after a reload, and gone once it was sent", async () => {
    const a = await tab();
    expect(a.keep("mug", work("one"))).toBe(true);
    a.close();
    const again = await tab(a.session);
    expect(await again.kept("mug")).toEqual(work("one"));
    expect(await again.kept("cap")).toBeUndefined();
    again.keep("mug", { base: 4, waiting: [] });
    expect(await again.kept("mug")).toBeUndefined();
  });

  it("of a tab that is closed goes to the next one, once", async () => {
    const a = await tab();
    a.keep("mug", work("one"));
    a.close();
    const b = await tab();
    expect(await b.kept("mug")).toEqual(work("one"));
    const c = await tab();
    expect(await c.kept("mug")).toBeUndefined();
  });

  it("of a tab that is open stays with it", async () => {
    const a = await tab();
    a.keep("mug", work("one"));
    const b = await tab();
    expect(await b.kept("mug")).toBeUndefined();
    vi.stubGlobal("sessionStorage", a.session);
    expect(await a.kept("mug")).toEqual(work("one"));
  });

  it("of a tab that was duplicated stays with the first", async () => {
    const a = await tab();
    a.keep("mug", work("one"));
    const twin = new Stored();
    twin.setItem("episema.tab", a.name);
    const b = await tab(twin);
    expect(b.name).not.toBe(a.name);
    expect(await b.kept("mug")).toBeUndefined();
  });

  it("says where the browser keeps nothing", async () => {
    const a = await tab();
    local.setItem = () => { throw new Error("full"); };
    expect(a.keep("mug", work("one"))).toBe(false);
    expect(a.keep("mug", { base: 3, waiting: [] })).toBe(true); // there is nothing to keep
  });
});
