import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { View } from "../../api/client";
import { Line } from "./line";
import { layRows, StageLayer } from "./stageLayer";

vi.mock("../../look/seen", () => ({ hidden: () => false, whenSeen: () => () => undefined }));

const [width, height] = [4, 3];
const view = (n: number) => ({ x: 0, y: 0, w: width, h: height, width, height, show: "picture", part: String(n) }) as unknown as View;
/** RGBA rows, all of one value. */
const rows = (value: number, w = width, h = height) => new Uint8Array(4 * w * h).fill(value);

let asked: { keep?: boolean; have?: string }[] = [];
let answers: ((() => Response) | Error)[] = [];

beforeEach(() => {
  [asked, answers] = [[], []];
  vi.stubGlobal("window", {});
  vi.stubGlobal("ImageData", class { constructor(readonly data: Uint8ClampedArray, readonly width: number, readonly height: number) {} });
  vi.stubGlobal("OffscreenCanvas", class {
    shown = rows(0);
    constructor(readonly width: number, readonly height: number) {}
    getContext() { return { putImageData: ({ data }: { data: Uint8ClampedArray }) => { this.shown = Uint8Array.from(data); } }; }
    transferToImageBitmap() { return { data: this.shown, width: this.width, height: this.height, close: () => undefined }; }
  });
  vi.stubGlobal("fetch", (_: string, how: { body: string }) => {
    asked.push(JSON.parse(how.body) as never);
    const a = answers.shift();
    return typeof a === "function" ? Promise.resolve(a()) : Promise.reject(a ?? new Error("nobody answers"));
  });
});
afterEach(() => { vi.unstubAllGlobals(); });

const raw = (bytes: Uint8Array<ArrayBuffer>, frame: string, rect: string) => () =>
  new Response(bytes, { headers: { "Content-Type": "application/octet-stream", "Content-Length": String(bytes.length), "X-Frame": frame, "X-Rect": rect } });

function start() {
  const layer = new StageLayer("p", () => undefined, () => undefined, false, 0, new Line());
  const shows = async (n: number) => {
    layer.want(view(n));
    await vi.waitFor(() => { expect(layer.settled).toBe(true); });
    return Array.from((layer.frame?.bitmap as unknown as { data: Uint8Array }).data);
  };
  return { layer, shows };
}

it("over a quick line no more comes than what differs from the last frame, and it is the whole frame that is shown", async () => {
  const { shows } = start();
  answers.push(raw(rows(1), "", "0 0 4 3"), raw(rows(2), "b", "0 0 4 3"), raw(rows(9, 2, 1), "c", "1 2 2 1"), raw(rows(0, 0, 0), "d", "0 0 0 0"), raw(rows(5, 1, 3), "e", "3 0 1 3"), raw(rows(7), "f", "0 0 4 3"));
  expect(await shows(0)).toEqual(Array.from(rows(1)));
  expect(await shows(1)).toEqual(Array.from(rows(2)));
  const third = rows(2);
  third.fill(9, 4 * (2 * width + 1), 4 * (2 * width + 3));
  expect(await shows(2)).toEqual(Array.from(third));
  expect(await shows(3)).toEqual(Array.from(third));
  for (const y of [0, 1, 2]) third.fill(5, 4 * (y * width + 3), 4 * (y * width + 4));
  expect(await shows(4)).toEqual(Array.from(third));
  expect(await shows(5)).toEqual(Array.from(rows(7)));
  expect(asked.map((a) => [a.keep, a.have])).toEqual([[undefined, undefined], [true, undefined], [true, "b"], [true, "c"], [true, "d"], [true, "e"]]);
});

it("what the server did not answer is asked for whole: its bytes may have been on the way", async () => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
  const { layer } = start();
  const shown = async (n: number) => {
    layer.want(view(n));
    for (let i = 0; i < 50; i++) await Promise.resolve();
    await vi.advanceTimersByTimeAsync(2000);
  };
  answers.push(raw(rows(1), "", "0 0 4 3"), raw(rows(2), "b", "0 0 4 3"), new Error("away"), raw(rows(4), "c", "0 0 4 3"));
  for (const n of [0, 1, 2]) await shown(n);
  vi.useRealTimers();
  await vi.waitFor(() => { expect(layer.settled).toBe(true); });
  expect(asked.map((a) => a.have)).toEqual([undefined, undefined, "b", undefined]);
  expect(Array.from((layer.frame?.bitmap as unknown as { data: Uint8Array }).data)).toEqual(Array.from(rows(4)));
});

it("rows are laid where they belong", () => {
  const frame = rows(1).buffer;
  layRows(frame, width, rows(3, 2, 2).buffer, { x: 2, y: 1, w: 2, h: 2 });
  expect([...new Uint8Array(frame)].filter((_, i) => i % 4 === 0)).toEqual([1, 1, 1, 1, 1, 1, 3, 3, 1, 1, 3, 3]);
});
