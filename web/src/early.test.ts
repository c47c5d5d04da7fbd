import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Picture } from "./api/client";
import { comingEarly, earlyPicture, onEarlyPicture } from "./early";

const picture = { id: "p" } as Picture;
const room = { width: 900, height: 700 };

beforeEach(() => { vi.stubGlobal("window", { early: { id: "p", room, picture, coming: Promise.resolve(picture) } }); });
afterEach(() => { vi.unstubAllGlobals(); });

it("is taken once: who comes back to a picture asks for it as it is then", async () => {
  expect(earlyPicture("q")).toBeUndefined();
  expect(earlyPicture("p")).toBe(picture);
  expect(earlyPicture("p")).toBeUndefined();
  expect(await comingEarly("p")).toBeUndefined();
});

it("is taken once where it was waited for", async () => {
  expect(await comingEarly("p")).toBe(picture);
  expect(earlyPicture("p")).toBeUndefined();
});

it("leaves the view that was asked for with it", () => {
  const view = { body: {}, answer: Promise.reject(new Error("none")), leave: new AbortController() };
  view.answer.catch(() => undefined);
  Object.assign(window.early ?? {}, { view });
  earlyPicture("p");
  expect(window.early?.view).toBe(view);
});

it("is handed on with its room", async () => {
  const seen: unknown[] = [];
  await onEarlyPicture((...args) => { seen.push(...args); return Promise.resolve(); });
  expect(seen).toEqual([picture, room]);
});
