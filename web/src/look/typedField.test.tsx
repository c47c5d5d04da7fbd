// @vitest-environment jsdom
import { cleanup, configure, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { NameField, TypedField, numberFrom } from "./TypedField";

configure({ asyncUtilTimeout: 10_000 });
afterEach(cleanup);

const made = (props: Partial<Parameters<typeof TypedField>[0]> = {}) => {
  const onValue = vi.fn(), onLeave = vi.fn();
  render(<TypedField aria-label="it" value="12" onValue={onValue} onLeave={onLeave} {...props} />);
  return { onValue, onLeave, field: screen.getByLabelText<HTMLInputElement>("it"), hand: userEvent.setup() };
};

describe("a typed field", () => {
  it("counts what was typed once it is left, or Enter is pressed", async () => {
    const { onValue, onLeave, field, hand } = made();
    await hand.clear(field);
    await hand.type(field, "  Mug body ");
    expect(onValue).not.toHaveBeenCalled();
    await hand.keyboard("{Enter}");
    expect(onValue.mock.calls).toEqual([["Mug body"]]);
    expect(onLeave).toHaveBeenCalledOnce();
    expect(document.activeElement).not.toBe(field);
  });
  it("puts back what was there by Escape, and where nothing is typed or it means nothing", async () => {
    const { onValue, onLeave, field, hand } = made({ read: numberFrom(0, 100) });
    await hand.clear(field);
    await hand.type(field, "40{Escape}");
    expect(field.value).toBe("12");
    for (const text of ["", "red", "101", "-1"]) {
      await hand.clear(field);
      if (text) await hand.type(field, text);
      await hand.tab();
      expect(field.value).toBe("12");
    }
    expect(onValue).not.toHaveBeenCalled();
    expect(onLeave).toHaveBeenCalledTimes(5);
  });
  it("reads a comma as a point", async () => {
    const { onValue, field, hand } = made({ read: numberFrom(0, 100) });
    await hand.clear(field);
    await hand.type(field, "2,5{Enter}");
    expect(onValue.mock.calls).toEqual([["2.5"]]);
    expect(numberFrom(-5, 5)("−3")).toBe("-3");
  });
  it("shows a value that comes from elsewhere", () => {
    const { field } = made();
    expect(field.value).toBe("12");
    cleanup();
    const { rerender } = render(<TypedField aria-label="it" value="1" onValue={vi.fn()} />);
    rerender(<TypedField aria-label="it" value="2" onValue={vi.fn()} />);
    expect(screen.getByLabelText<HTMLInputElement>("it").value).toBe("2");
  });
  it("has the focus and all of it selected where a thing is renamed", () => {
    render(<NameField aria-label="name" value="Part 1" onValue={vi.fn()} />);
    const field = screen.getByLabelText<HTMLInputElement>("name");
    expect(document.activeElement).toBe(field);
    expect([field.selectionStart, field.selectionEnd]).toEqual([0, 6]);
  });
});
