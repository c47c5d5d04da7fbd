import jsonpatch from "fast-json-patch";
import { describe, expect, it } from "vitest";
import { changesOf } from "./changes";
import type { Document, Part } from "./client";
import { random } from "../testing/random";
import { keyOf, same } from "./identity";

const upTo = (r: () => number, n: number) => Math.floor(r() * n);

function somePart(r: () => number): Part {
  const p = { id: `p${upTo(r, 1e6)}`, name: ["Mug", "Scarf/~fringe", "Größe"][upTo(r, 3)] ?? "", picks: [], target: {}, settings: {} } as unknown as Part;
  if (r() < 0.5) p.target = { css: "#1d5c4a", tolerance: upTo(r, 9) };
  if (r() < 0.4) p.match = [upTo(r, 900), upTo(r, 900)];
  for (let k = upTo(r, 3); k > 0; k--) p.picks.push({ kind: "brush", join: "add", strokes: [{ radius: 12, points: [[upTo(r, 99), 2.5], [3, 4]] }] } as unknown as Part["picks"][number]);
  return p;
}

/** Changes a document as hands do: what is not changed stays the very same object. */
function edited(r: () => number, d: Document): Document {
  const at = upTo(r, Math.max(1, d.parts.length));
  const one = (f: (p: Part) => Part): Document => ({ ...d, parts: d.parts.map((p, i) => (i === at ? f(p) : p)) });
  switch (upTo(r, 9)) {
    case 0: return { ...d, parts: [...d.parts, somePart(r)] };
    case 1: return { ...d, parts: d.parts.filter((_, i) => i !== at) };
    case 2: return { ...d, parts: [somePart(r), ...d.parts] };
    case 3: return { ...d, parts: [...d.parts].reverse() };
    case 4: return one((p) => ({ ...p, name: `${p.name} ${upTo(r, 9)}` }));
    case 5: return one((p) => ({ ...p, match: p.match ? undefined : [upTo(r, 99), 1] }));
    case 6: return one((p) => ({ ...p, picks: p.picks.map((k, i) => (i === 0 ? { ...k, strokes: [...(k.strokes ?? []), { radius: 3, points: [[upTo(r, 99), 1]] }] } : k)) }));
    case 7: return one((p) => ({ ...p, target: r() < 0.3 ? {} : { ...p.target, css: `#${String(upTo(r, 999999)).padStart(6, "0")}` } }));
    default: return one((p) => ({ ...p, picks: p.picks.slice(1) }));
  }
}

/** Pairs of documents, as the server sees them. */
function pair(seed: number): [Document, Document] {
  const r = random(seed);
  let d: Document = { parts: Array.from({ length: upTo(r, 4) }, () => somePart(r)) };
  const from = d;
  for (let k = 1 + upTo(r, 4); k > 0; k--) d = edited(r, d);
  return [from, d];
}

const plain = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;

describe("changesOf", () => {
  it("gives a JSON Patch that a library for RFC 6902 (fast-json-patch) makes the same document with", () => {
    for (let seed = 0; seed < 3000; seed++) {
      const [a, b] = pair(seed);
      const changes = changesOf(a, b);
      expect(changes).toBeDefined();
      const made = jsonpatch.applyPatch(plain(a), plain(changes ?? []) as never, true, true).newDocument;
      expect(made, `seed ${seed}`).toEqual(plain(b));
    }
  });

  it("has nothing to say of what is the same", () => {
    const [a] = pair(5);
    expect(changesOf(a, a)).toEqual([]);
    expect(changesOf(a, plain(a))).toEqual([]);
  });

  it("names one slider by one operation, however much there is", () => {
    const r = random(1);
    const parts = Array.from({ length: 200 }, (_, i) => ({ ...somePart(r), id: `p${i}` }));
    const a: Document = { parts };
    const b: Document = { parts: parts.map((p, i) => (i === 100 ? { ...p, settings: { ...p.settings, shade_depth: 12 } } : p)) };
    const changes = changesOf(a, b);
    expect(changes).toEqual([{ op: "add", path: "/parts/100/settings/shade_depth", value: 12 }]);
  });

  it("gives up where there is too much", () => {
    const many = (n: number): Document => ({ parts: Array.from({ length: 400 }, (_, i) => ({ id: `p${i}`, name: `${n}`, picks: [], target: { css: `#${n}` }, settings: { method: `${n}` } }) as unknown as Part) });
    const c = changesOf(many(1), many(2));
    expect(c?.length ?? 0).toBeLessThanOrEqual(1);
  });

  it("says what the server is tested with", async () => {
    // The server's core makes these same changes (core/document); "vitest run -u" writes them anew.
    const cases = Array.from({ length: 60 }, (_, seed) => {
      const [before, after] = pair(10000 + seed);
      return plain({ before, after, changes: changesOf(before, after) });
    });
    await expect(`[\n${cases.map((c) => JSON.stringify(c)).join(",\n")}\n]\n`).toMatchFileSnapshot("../../../core/document/testdata/changes.json");
  });
});

describe("keyOf", () => {
  it("is the same for what holds the same, and another for what does not", () => {
    for (let seed = 0; seed < 2000; seed++) {
      const [a, b] = pair(seed);
      expect(same(a, plain(a))).toBe(true);
      const turned = Object.fromEntries(Object.entries(a).reverse());
      expect(keyOf(turned)).toBe(keyOf(a));
      expect(same(a, b), `seed ${seed}`).toBe(changesOf(a, b)?.length === 0);
    }
  });

  it("tells kinds apart", () => {
    const all = [undefined, null, 0, "", "0", [], {}, [0], [[0]], { a: 0 }, { a: "0" }, { b: 0 }, [undefined, 1], "#1", ["#1"], [[]], [{}]];
    expect(new Set(all.map(keyOf)).size).toBe(all.length);
    expect(keyOf({ a: 1, b: undefined })).toBe(keyOf({ a: 1 }));
  });
});
