// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { NumberRow } from "./NumberRow";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

describe("a figure that is typed", () => {
  /** The field after it got the focus, with what the browser does before it draws next. */
  const entered = () => {
    const next: FrameRequestCallback[] = [];
    vi.stubGlobal("requestAnimationFrame", (f: FrameRequestCallback) => next.push(f));
    render(<NumberRow label="Feather" value={2} min={0} max={300} initial={0} onDrag={vi.fn()} onRest={vi.fn()} />);
    const field = screen.getByLabelText<HTMLInputElement>("Feather, typed");
    act(() => field.focus());
    const select = vi.spyOn(field, "select");
    return { field, select, draw: () => act(() => next.splice(0).forEach((f) => f(0))) };
  };
  it("is selected once more where a click let go of it", () => {
    const { select, draw } = entered();
    draw();
    expect(select).toHaveBeenCalledOnce();
  });
  it("keeps a digit that was typed before the browser drew, also the very figure that stood there", () => {
    for (const digit of ["2", "7"]) {
      const { field, select, draw } = entered();
      fireEvent.input(field, { target: { value: digit } });
      draw();
      expect(select).not.toHaveBeenCalled();
      expect(field.value).toBe(digit);
      cleanup();
    }
  });
  it("steps by the keys, ten with Shift, within its limits, and is one edit once they rest", () => {
    vi.useFakeTimers();
    const onDrag = vi.fn(), onRest = vi.fn();
    render(<NumberRow label="Feather" value={2} min={0} max={30} step={0.5} initial={0} onDrag={onDrag} onRest={onRest} />);
    const field = screen.getByLabelText<HTMLInputElement>("Feather, typed");
    act(() => field.focus());
    fireEvent.keyDown(field, { key: "ArrowUp" });
    fireEvent.keyDown(field, { key: "ArrowUp", shiftKey: true });
    for (let i = 0; i < 9; i++) fireEvent.keyDown(field, { key: "ArrowDown", shiftKey: true });
    expect(onDrag.mock.calls.map(([v]) => v as number)).toEqual([2.5, 7.5, 2.5, 0, 0, 0, 0, 0, 0, 0, 0]);
    expect(onRest).not.toHaveBeenCalled();
    fireEvent.keyDown(field, { key: "ArrowUp" });
    act(() => { vi.advanceTimersByTime(2000); });
    expect(onRest.mock.calls).toEqual([[0.5]]);
    vi.useRealTimers();
  });
});

describe("a slider whose page is late", () => {
  it("follows the hand by itself, and the page once the hand rests", () => {
    vi.useFakeTimers();
    const onRest = vi.fn();
    const row = (value: number) => <NumberRow label="Feather" value={value} min={0} max={30} initial={0} onDrag={vi.fn()} onRest={onRest} />;
    const { rerender } = render(row(2));
    const field = screen.getByLabelText<HTMLInputElement>("Feather, typed");
    const slider = screen.getByRole<HTMLInputElement>("slider");
    fireEvent.keyDown(slider, { key: "End" });
    expect([slider.value, field.value]).toEqual(["30", "30"]);
    rerender(row(5)); // what the page made of an earlier place
    expect([slider.value, field.value]).toEqual(["30", "30"]);
    act(() => { vi.advanceTimersByTime(2000); });
    expect(onRest.mock.calls).toEqual([[30]]);
    rerender(row(4)); // undone, say
    expect([slider.value, field.value]).toEqual(["4", "4"]);
    vi.useRealTimers();
  });
});
