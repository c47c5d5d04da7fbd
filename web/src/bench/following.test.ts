// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { lately } from "../look/goesAhead";
import { beforeHands, behind, Following } from "./following";

describe("a page that may follow late", () => {
  let quiet: () => void;
  let asked: number;
  let did: string[];
  let page: Following;
  const late = (what: string) => lately(() => page.to(() => did.push(what)));
  beforeEach(() => {
    vi.useFakeTimers();
    asked = 0;
    did = [];
    page = new Following(() => {
      asked++;
      return new Promise((done) => { quiet = done; });
    });
  });
  afterEach(() => { vi.useRealTimers(); });

  it("follows to the newest, once, when nothing else is waited for", async () => {
    late("one");
    late("two");
    expect([did, asked]).toEqual([[], 1]);
    quiet();
    await vi.advanceTimersByTimeAsync(0);
    expect(did).toEqual(["two"]);
    await vi.advanceTimersByTimeAsync(10 * behind);
    expect(did).toEqual(["two"]);
  });

  it("is not left behind by a hand that does not rest", async () => {
    for (let n = 0; n <= 10; n++) {
      late(String(n));
      await vi.advanceTimersByTimeAsync(behind / 4);
    }
    expect(did).toEqual(["3", "7"]);
  });

  it("goes on at once while it is on its way, instead of arriving at what is passed", async () => {
    const told: number[] = [];
    page = new Following(() => Promise.resolve(), (n) => told.push(n));
    late("one");
    await vi.advanceTimersByTimeAsync(0);
    expect([did, told]).toEqual([["one"], [1]]); // and renders there
    late("two");
    expect([did, told]).toEqual([["one", "two"], [1, 2]]);
    page.arrived(1);
    late("three");
    expect(did).toEqual(["one", "two", "three"]);
    page.arrived(3);
    late("four");
    expect(did).toEqual(["one", "two", "three"]);
    await vi.advanceTimersByTimeAsync(0);
    expect(did).toEqual(["one", "two", "three", "four"]);
  });

  it("follows at once what is not done lately, and to nothing older afterwards", async () => {
    late("one");
    page.to(() => did.push("at once"));
    quiet();
    await vi.advanceTimersByTimeAsync(10 * behind);
    expect(did).toEqual(["at once"]);
  });

  it("forgets what is dropped, and what waits for the stage then is none of the next one's", async () => {
    late("one");
    const first = quiet;
    page.drop();
    late("two");
    first();
    await vi.advanceTimersByTimeAsync(0);
    expect(did).toEqual([]);
    quiet();
    await vi.advanceTimersByTimeAsync(0);
    expect(did).toEqual(["two"]);
  });

  it("follows before a hand does something else, and not once more afterwards", async () => {
    document.body.innerHTML = `<select data-turns></select><button></button>`;
    document.querySelector("button")?.addEventListener("click", () => did.push("click"));
    const stop = beforeHands("[data-turns]", () => page.now());
    late("one");
    document.querySelector("select")?.dispatchEvent(new Event("change", { bubbles: true }));
    expect(did).toEqual([]);
    document.querySelector("button")?.click();
    expect(did).toEqual(["one", "click"]);
    quiet();
    await vi.advanceTimersByTimeAsync(10 * behind);
    stop();
    late("two");
    document.querySelector("button")?.click();
    expect(did).toEqual(["one", "click", "click"]);
  });
});
