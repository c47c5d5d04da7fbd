// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useLayoutEffect } from "react";
import { afterEach, expect, test, vi } from "vitest";
import { still } from "./still";

afterEach(cleanup);

let renders = 0;

const Plain = still(function Plain(p: { name: string; list: number[]; onPress?: (n: number) => void; onHere?: () => void }) {
  renders++;
  useLayoutEffect(() => p.onHere?.());
  return <button onClick={() => p.onPress?.(p.list.length)}>{p.name}{p.onPress ? "" : " (nothing)"}</button>;
});

test("another function is no other component, and the newest is what is called", async () => {
  renders = 0;
  const list = [1, 2];
  const [first, second, here] = [vi.fn(), vi.fn(), vi.fn()];
  const { rerender } = render(<Plain name="a" list={list} onPress={first} onHere={() => here("first")} />);
  expect(here).toHaveBeenCalledExactlyOnceWith("first"); // by an effect of its own, before those around it
  rerender(<Plain name="a" list={list} onPress={second} onHere={() => here("second")} />);
  expect(renders).toBe(1);
  await userEvent.click(screen.getByRole("button"));
  expect(first).not.toHaveBeenCalled();
  expect(second).toHaveBeenCalledExactlyOnceWith(2);
});

test("anything else that differs is, and so is a function that is there no more", () => {
  renders = 0;
  const list = [1, 2];
  const { rerender } = render(<Plain name="a" list={list} onPress={vi.fn()} />);
  rerender(<Plain name="b" list={list} onPress={vi.fn()} />);
  expect(renders).toBe(2);
  expect(screen.getByRole("button").textContent).toBe("b");
  rerender(<Plain name="b" list={[1, 2]} onPress={vi.fn()} />);
  expect(renders).toBe(3);
  rerender(<Plain name="b" list={[1, 2]} />);
  expect(screen.getByRole("button").textContent).toBe("b (nothing)");
});
