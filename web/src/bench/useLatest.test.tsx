// @vitest-environment jsdom
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import { useLatestOf } from "./useLatest";

afterEach(cleanup);

it("an answer stays until the next is there, and says of what it is", async () => {
  const waiting = new Map<string, (a: string) => void>();
  const ask = (key: string) => new Promise<string>((done) => waiting.set(key, done));
  const { result, rerender } = renderHook<ReturnType<typeof useLatestOf<string>>, { key?: string }>(({ key }) => useLatestOf(key, ask), { initialProps: { key: "a" } });
  const answer = async (key: string) => {
    await waitFor(() => { expect(waiting.has(key)).toBe(true); });
    await act(async () => {
      waiting.get(key)?.(`of ${key}`);
      await Promise.resolve();
    });
  };
  expect(result.current).toEqual({});
  await answer("a");
  expect(result.current).toEqual({ answer: "of a", of: "a" });
  rerender({ key: "b" });
  await act(() => Promise.resolve());
  expect(result.current).toEqual({ answer: "of a", of: "a" });
  rerender({ key: "c" }); // while b is asked for
  await answer("b");
  expect(result.current).toEqual({ answer: "of b", of: "b" });
  await answer("c");
  expect(result.current).toEqual({ answer: "of c", of: "c" });
  rerender({ key: undefined });
  expect(result.current).toEqual({});
});
