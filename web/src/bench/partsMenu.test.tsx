// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, configure, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Part, Proof } from "../api/client";
import { newPart } from "./parts";
import { Parts } from "./Parts";

configure({ asyncUtilTimeout: 10_000 });
afterEach(cleanup);
vi.stubGlobal("CSS", { escape: (s: string) => s.replace(/[^\w-]/g, "\\$&") }); // jsdom has none

const pick = { kind: "sweep" as const, join: "add" as const, strokes: [{ radius: 5, points: [[1, 1]] }] };
const part = (id: string, more: Partial<Part> = {}): Part => ({ ...newPart(id), id, picks: [pick], ...more });

/** The list of parts with a hand on it: what was called, with what. */
function shown(parts: Part[], at: string, proof?: Proof, measuring = false) {
  const calls: unknown[][] = [];
  const say = (name: string) => (...a: unknown[]) => { calls.push([name, ...a.map((v) => (typeof v === "object" && v ? (v as Part).id : v))]); };
  const queries = new QueryClient();
  queries.setQueryData(["recipes"], []); // those that every job has
  render(
    <QueryClientProvider client={queries}><Parts
      parts={parts} at={at} proof={proof} measuring={measuring} recipes={[]} onChoose={say("choose")} onAdd={say("add")} onCarry={say("carry")} onRecipe={vi.fn()} onRename={say("rename")} onHide={say("hide")}
      onDelete={say("delete")} onInside={say("inside")} onRest={say("rest")} onOverlap={say("overlap")} onCopy={say("copy")}
    /></QueryClientProvider>,
  );
  const hand = userEvent.setup();
  const open = async () => {
    await hand.click(screen.getByRole("button", { name: /^More for/ }));
    return within(await screen.findByRole("menu")).getAllByRole("menuitem");
  };
  return { calls, hand, open };
}

describe("the menu of a part", () => {
  it("does what each entry says, with the part at hand", async () => {
    const { calls, hand, open } = shown([part("mug"), part("rim", { within: "mug" })], "mug");
    const names = (await open()).map((e) => e.textContent);
    expect(names).toEqual(["New part inside it", "The rest of it as a part", "Set a copy beside it", "May overlap other parts", "Delete mug"]);
    await hand.keyboard("{Escape}");
    for (const i of names.keys()) {
      const entry = (await open())[i];
      if (entry) await hand.click(entry);
    }
    expect(calls).toEqual([["inside", "mug"], ["rest", "mug"], ["copy", "mug"], ["overlap", "mug"], ["delete", "mug"]]);
  });
  it("offers no rest where nothing lies inside, no copy of what is not selected, and none of a copy", async () => {
    const { open, hand } = shown([part("mug", { picks: [], overlap: true })], "mug");
    const off = (list: HTMLElement[]) => list.filter((e) => e.getAttribute("aria-disabled") === "true").map((e) => e.textContent);
    const list = await open();
    expect(off(list)).toEqual(["The rest of it as a part", "Set a copy beside it"]);
    expect(list.map((e) => e.textContent)).toContain("May not overlap other parts");
    await hand.keyboard("{Escape}");
    cleanup();
    const copy = shown([part("mug"), part("second", { copy: { of: "mug", at: [9, 9] } as Part["copy"] })], "second");
    expect((await copy.open()).map((e) => e.textContent)).not.toContain("Set a copy beside it");
  });
  it("renames by F2, by a double click and by the pencil, and hides a part", async () => {
    const { calls, hand } = shown([part("mug")], "mug");
    const name = () => screen.getByLabelText("Name of the part");
    for (const begin of [
      () => hand.dblClick(screen.getByRole("button", { name: /^mug/ })),
      () => hand.click(screen.getByRole("button", { name: "Rename mug" })),
      async () => { screen.getByRole("button", { name: /^mug/ }).focus(); await hand.keyboard("{F2}"); },
    ]) {
      await begin();
      await hand.clear(name());
      await hand.type(name(), "Body{Enter}");
    }
    expect(calls.filter(([what]) => what === "rename")).toEqual([["rename", "mug", "Body"], ["rename", "mug", "Body"], ["rename", "mug", "Body"]]);
    await hand.click(screen.getByRole("button", { name: /as it is for now$/ }));
    expect(calls.at(-1)).toEqual(["hide", "mug", true]);
  });
});

describe("a part's row", () => {
  it("says that it is left as it is only where that is so, not while nothing is known of it", () => {
    shown([part("mug", { target: { css: "#1d6a72" } }), part("rim"), part("foot", { target: { css: "#1d6a72" }, hidden: true })], "mug");
    const said = screen.getAllByRole("img").map((n) => n.getAttribute("aria-label"));
    expect(said).toEqual(["not measured yet", "left as it is", "left as it is"]);
    expect(screen.getAllByText(/not measured yet/)).toHaveLength(1);
    expect(screen.getAllByText(/left as it is/)).toHaveLength(2);
  });
});

it("a disc says nothing of a colour that is not measured yet, whatever the last one was", () => {
  const proof = { parts: [{ id: "mug", state: "within", share: 10, own_hex: "#a00000", want_hex: "#00a000" }] } as unknown as Proof;
  const says = (measuring: boolean, css?: string) => {
    shown([part("mug", { target: { css } })], "mug", proof, measuring);
    const label = screen.getByRole("img").getAttribute("aria-label");
    cleanup();
    return label;
  };
  expect(says(false, "#00a000")).toBe("within tolerance");
  expect(says(true, "#00b000")).toBe("not measured yet");
});
