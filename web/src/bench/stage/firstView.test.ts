import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Picture } from "../../api/client";
import { askedFirst, askForFirstView, firstView } from "./firstView";

const document = { parts: [{ id: "a", name: "Mug" }, { id: "b", name: "Saucer" }] };
const picture = (id: string) => ({ id, revision: 4, width: 1800, height: 1200, colourways: [], document }) as unknown as Picture;

const room = { width: 948, height: 722 };
let asked: { path: string; body: object; signal: AbortSignal }[] = [];

beforeEach(() => {
  asked = [];
  vi.stubGlobal("innerWidth", 1280);
  vi.stubGlobal("innerHeight", 800);
  vi.stubGlobal("devicePixelRatio", 1);
  vi.stubGlobal("location", { search: "" });
  vi.stubGlobal("window", { early: { id: "p", room } });
  vi.stubGlobal("fetch", (path: string, how: { body: string; signal: AbortSignal }) => {
    asked.push({ path, body: JSON.parse(how.body) as object, signal: how.signal });
    return Promise.resolve(new Response("pixels"));
  });
});
afterEach(() => {
  void askedFirst("none", {}); // what a test left waiting
  vi.unstubAllGlobals();
});

it("is all of the picture, fitted with a margin, in the hatch of the first part", () => {
  expect(firstView(picture("p"), document as never, { width: 948, height: 722 })).toMatchObject({ view: { x: 0, y: 0, w: 1800, h: 1200, width: 900, height: 600, show: "hatch", part: "a" }, at: { zoom: 0.5, left: 24, top: 61 } });
});

it("is answered by what was asked for early, once", async () => {
  askForFirstView(picture("p"), room);
  expect(asked.map((a) => a.path)).toEqual(["/api/pictures/p/view"]);
  expect(asked[0]?.body).toMatchObject({ draft: { base: 4, changes: [] } });
  const answer = await askedFirst("p", asked[0]?.body ?? {});
  expect(new TextDecoder().decode(answer?.bytes)).toBe("pixels");
  expect(askedFirst("p", asked[0]?.body ?? {})).toBeUndefined();
});

it.each([["another view", "p", { show: "picture" }], ["another picture", "q", {}]])("is not waited for where %s is wanted", (_, id, other) => {
  askForFirstView(picture("p"), room);
  expect(askedFirst(id, { ...asked[0]?.body, ...other })).toBeUndefined();
  expect(asked[0]?.signal.aborted).toBe(true);
  expect(askedFirst("p", asked[0]?.body ?? {})).toBeUndefined();
});

it("is not asked for where the stage will have another room", () => {
  vi.stubGlobal("innerWidth", 800);
  askForFirstView(picture("p"), room);
  expect(asked).toEqual([]);
});
