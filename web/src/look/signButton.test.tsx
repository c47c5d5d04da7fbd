// @vitest-environment jsdom
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { SignButton } from "./SignButton";

afterEach(cleanup);

describe("a button that shows a sign", () => {
  it("says what it does when the keys have come to it, until Escape", async () => {
    const user = userEvent.setup();
    const escaped = vi.fn();
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions -- stands for the page, which has keys of its own
    render(<div onKeyDown={(e) => { if (e.key === "Escape") escaped(); }}><SignButton says="Undo rename part" onPress={vi.fn()}>↶</SignButton></div>);
    await user.tab();
    await waitFor(() => expect(screen.getByRole("tooltip").textContent).toBe("Undo rename part"));
    expect(screen.getByRole("button", { name: "Undo rename part" }).getAttribute("aria-describedby")).toBeNull();
    await user.keyboard("{Escape}");
    expect(screen.queryByRole("tooltip")).toBeNull();
    expect(escaped).not.toHaveBeenCalled();
    await user.keyboard("{Escape}");
    expect(escaped).toHaveBeenCalledOnce();
  });
  it("is pressed as any other, and says no more then", async () => {
    const user = userEvent.setup();
    const pressed = vi.fn();
    render(<SignButton says="Undo" onPress={pressed}>↶</SignButton>);
    await user.tab();
    await screen.findByRole("tooltip");
    await user.keyboard("{Enter}");
    expect(pressed).toHaveBeenCalledOnce();
    expect(screen.queryByRole("tooltip")).toBeNull();
  });
});
