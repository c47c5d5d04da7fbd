// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Part, Pick } from "../../api/client";
import { PickList } from "./PickList";

vi.stubGlobal("CSS", { escape: (s: string) => s }); // what the page of the tests lacks

afterEach(cleanup);

const picks = [{ kind: "sweep", join: "add" }, { kind: "brush", join: "subtract" }, { kind: "hues", join: "intersect" }] as Pick[];

/** The list of three picks with the one at place 1 open. */
const shown = () => {
  const onPicks = vi.fn<(label: string, picks: Pick[]) => void>(), onOpen = vi.fn<(i: number, kind: string) => void>();
  render(<PickList part={{ id: "a", name: "Scarf", picks, target: {}, edge: {} } as unknown as Part} parts={[]} opened={1} onOpen={onOpen} onPicks={onPicks} />);
  const rows = within(screen.getByRole("grid", { name: "Picks" })).getAllByRole("row");
  return { rows, onPicks, onOpen, kinds: () => onPicks.mock.calls.map(([, list]) => list.map((k) => k.kind).join(" ")) };
};

describe("the picks of a part", () => {
  it("are moved by Alt and an arrow, and what is open stays open", () => {
    const { rows, kinds, onOpen } = shown();
    fireEvent.keyDown(rows[1] as HTMLElement, { key: "ArrowUp", altKey: true });
    expect(kinds()).toEqual(["brush sweep hues"]);
    expect(onOpen).toHaveBeenCalledWith(0, "brush");
  });
  it("stay where they are at the ends of the list", () => {
    const { rows, onPicks } = shown();
    fireEvent.keyDown(rows[0] as HTMLElement, { key: "ArrowUp", altKey: true });
    fireEvent.keyDown(rows[2] as HTMLElement, { key: "ArrowDown", altKey: true });
    expect(onPicks).not.toHaveBeenCalled();
  });
  it("are dragged by the keys to where they are let go", async () => {
    const { kinds, onOpen } = shown();
    const user = userEvent.setup();
    screen.getByRole("button", { name: "Drag Sweep to another place" }).focus();
    await user.keyboard("{Enter}"); // it is in the hand
    await user.keyboard("{ArrowDown}{ArrowDown}{Enter}");
    expect(kinds()).toEqual(["brush hues sweep"]);
    expect(onOpen).toHaveBeenCalledWith(0, "brush");
  });
});
