// @vitest-environment jsdom
import { renderHook, waitFor } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Document } from "../api/client";
import { useLive, type Window } from "./useLive";

const asked: { path: string; answer: (data: unknown) => void }[] = [];

vi.mock("../api/client", async (original) => ({
  ...(await original<object>()),
  api: { POST: (path: string) => new Promise((done) => { asked.push({ path, answer: (data) => done({ data, response: { ok: true, status: 200 } }) }); }) },
}));

const of = (what: string) => asked.filter((a) => a.path.endsWith(what));

test("what was asked for while the stage was fitted again to the same is of what is shown, and what comes next is asked for", async () => {
  vi.stubGlobal("ImageData", class { data: Uint8ClampedArray; constructor(w: number, h: number) { this.data = new Uint8ClampedArray(4 * w * h); } });
  const document = { parts: [{ id: "a", name: "A", picks: [], target: {}, settings: {}, family: { main: "#111", members: [{ colour: "#111", count: 1, area: 1 }] } }] } as unknown as Document;
  const fitted = (): Window => ({ x: 0, y: 0, w: 4, h: 2, width: 2, height: 1 });
  const onProblem = vi.fn();
  const props = (window: Window) => ({ on: true, picture: "p", document, part: "a", window, before: false, split: false, onProblem });
  const { rerender } = renderHook((p: Parameters<typeof useLive>[0]) => useLive(p), { initialProps: props(fitted()) });
  await waitFor(() => expect(of("/view")).toHaveLength(1));
  rerender(props(fitted()));
  of("/view")[0]?.answer(new ArrayBuffer(8));
  for (const a of of("/colours")) a.answer([]);
  await waitFor(() => expect(of("/shares")).toHaveLength(1), { timeout: 3000 });
  expect(onProblem).not.toHaveBeenCalled();
});
