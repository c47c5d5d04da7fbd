// @vitest-environment jsdom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { api, type Drawing } from "../api/client";
import { usePicked } from "./usePicked";

/** Four things, each of a colour of its own. */
const d = { colours: ["#000001", "#000002", "#000003", "#000004"], items: { elements: [0, 1, 2, 3], colours: [0, 1, 2, 3] } } as unknown as Drawing;
const shift = { shift: true, alt: false };

interface Asked {
  signal: AbortSignal;
  answer: (items: number[]) => Promise<void>;
  fail: () => Promise<void>;
}
let asked: Asked[] = [];

beforeEach(() => {
  asked = [];
  vi.spyOn(api, "POST").mockImplementation(((_: string, { signal }: { signal: AbortSignal }) =>
    new Promise((resolve, reject) => {
      asked.push({
        signal,
        answer: (items) => act(async () => { resolve({ data: { items }, response: new Response() }); await Promise.resolve(); }),
        fail: () => act(async () => { reject(new Error("away")); await Promise.resolve(); }),
      });
    })) as never);
});

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const start = () => {
  const onProblem = vi.fn();
  return { onProblem, ...renderHook(() => usePicked("p", d, onProblem)) };
};
const settle = () => act(async () => { await new Promise((r) => setTimeout(r)); });

it("an answer that comes late picks nothing over what was wished since", async () => {
  const { result } = start();
  act(() => { result.current.pick("#000001"); });
  act(() => { result.current.on("board-2"); });
  act(() => { result.current.pick("#000003"); });
  await asked[2]?.answer([2]);
  await asked[1]?.answer([]);
  await asked[0]?.answer([0]);
  await settle();
  expect([...result.current.items]).toEqual([2]);
  expect(asked.map((a) => a.signal.aborted)).toEqual([true, true, false]);
});

it("what is added comes to what was picked before it, though its answer was there first", async () => {
  const { result } = start();
  act(() => { result.current.pick("#000001"); });
  act(() => { result.current.pick("#000002", shift); });
  await asked[1]?.answer([1]);
  await asked[0]?.answer([0]);
  await settle();
  expect([...result.current.items].sort()).toEqual([0, 1]);
});

it("a pick that fails is told, and holds up none after it", async () => {
  const { result, onProblem } = start();
  act(() => { result.current.pick("#000001"); });
  act(() => { result.current.pick("#000002", shift); });
  await asked[1]?.answer([1]);
  await asked[0]?.fail();
  await settle();
  expect(onProblem).toHaveBeenCalledWith(expect.stringContaining("away"));
  expect([...result.current.items]).toEqual([1]);
});

it("nothing is picked any more once nothing was wished", async () => {
  const { result, onProblem } = start();
  act(() => { result.current.pick("#000001"); });
  act(() => { result.current.clear(); });
  await asked[0]?.answer([0]);
  await settle();
  expect([...result.current.items]).toEqual([]);
  expect(onProblem).not.toHaveBeenCalled();
});

it("what is made of what is picked waits for the answer", async () => {
  const { result } = start();
  act(() => { result.current.pick("#000004"); });
  const coming = result.current.coming();
  await asked[0]?.answer([3]);
  expect(await coming).toEqual(["#000004"]);
});
