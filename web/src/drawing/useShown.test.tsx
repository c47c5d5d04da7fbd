// @vitest-environment jsdom
import { cleanup, renderHook, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { api, type Picture } from "../api/client";
import { nowStored } from "../api/draft";
import { useShown } from "./useShown";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

it("what a drawing comes to is asked for anew where its colours in ink are read through another profile, and only then", async () => {
  const post = vi.spyOn(api, "POST").mockResolvedValue({ data: { members: "m", groups: [], parts: [] }, response: new Response() });
  const document = { parts: [] };
  const picture = { id: "p", job: "j", width: 10, height: 10 } as unknown as Picture;
  nowStored("p", 1, document);
  const [onShown, onProblem] = [vi.fn(), vi.fn()];
  const { rerender } = renderHook(({ inks }: { inks?: string }) => useShown({ picture, document, inks, heavy: false, flat: false, onShown, onProblem }), { initialProps: { inks: "a" } });
  await waitFor(() => { expect(onShown).toHaveBeenCalledTimes(1); });
  rerender({ inks: "a" });
  rerender({ inks: "b" });
  await waitFor(() => { expect(onShown).toHaveBeenCalledTimes(2); });
  expect(post).toHaveBeenCalledTimes(2);
  expect(onProblem).not.toHaveBeenCalled();
});
