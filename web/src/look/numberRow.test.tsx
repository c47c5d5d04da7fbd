// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { NumberRow } from "./controls";

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
});
