import { describe, expect, it } from "vitest";
import { random } from "../testing/random";
import { merge } from "./merge";

interface List { list: { id: string; name: string; cells: Record<string, number> }[] }
const list = (...ids: string[]): List => ({ list: ids.map((id) => ({ id, name: id, cells: {} })) });
const ids = (l: List) => l.list.map((q) => q.id).join(" ");

describe("merge", () => {
  it("has what both made", () => {
    expect(ids(merge(list("a"), list("a", "mine"), list("theirs", "a")))).toBe("theirs a mine");
    expect(ids(merge(list("a", "b"), list("b"), list("c", "b", "a")))).toBe("c b");
    expect(ids(merge(list("a", "b"), list("b", "a"), list("a", "b", "c")))).toBe("b c a");
    const named = list("a", "b");
    named.list[0] = { id: "a", name: "Winter", cells: { x: 1 } };
    const theirs = list("b", "a");
    theirs.list[1] = { id: "a", name: "a", cells: { y: 2 } };
    expect(merge(list("a", "b"), named, theirs).list).toEqual([{ id: "b", name: "b", cells: {} }, { id: "a", name: "Winter", cells: { x: 1, y: 2 } }]);
  });

  it("is mine where nobody else did anything, theirs where I did not, and has nothing twice", () => {
    const r = random(3);
    const some = () => list(..."abcdef".split("").filter(() => r() < 0.6).sort(() => r() - 0.5));
    for (let k = 0; k < 3000; k++) {
      const [b, m, t] = [some(), some(), some()];
      expect(merge(b, m, b)).toEqual(m);
      expect(merge(b, b, t)).toEqual(t);
      expect(merge(b, m, m)).toEqual(m);
      const got = merge(b, m, t).list.map((q) => q.id);
      expect(new Set(got).size).toBe(got.length);
      for (const id of "abcdef") {
        const [inB, inM, inT] = [b, m, t].map((l) => l.list.some((q) => q.id === id));
        expect(got.includes(id), `${id} of ${ids(b)} | ${ids(m)} | ${ids(t)}`).toBe(inB ? inM && inT : inM || inT);
      }
    }
  });
});
