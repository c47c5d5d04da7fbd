// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job } from "../api/client";
import { Matrix } from "./Matrix";
import type { JobEditing } from "./useJob";

beforeEach(() => {
  vi.stubGlobal("IntersectionObserver", class { observe = vi.fn(); disconnect = vi.fn(); }); // nothing is seen, so that nothing is asked for
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

/** A matrix of three parts in so many colourways, a window of 600 by 400 onto it. */
function shown(ways: number) {
  const job = {
    id: "j", name: "Shop", palette: [{ id: "red", name: "Red", css: "#f00", tolerance: 2, hex: "#ff0000" }], pictures: [], recipes: [],
    rows: ["scarf", "cap", "mug"].map((key) => ({ key, name: key, pictures: ["p"] })),
    colourways: Array.from({ length: ways }, (_, i) => ({ id: `w${i}`, name: `Way ${i + 1}`, cells: {} })),
  } as unknown as Job;
  const edit = vi.fn<JobEditing["edit"]>().mockResolvedValue(undefined);
  render(<QueryClientProvider client={new QueryClient()}><Matrix job={job} editing={{ edit, stored: job } as unknown as JobEditing} /></QueryClientProvider>);
  const frame = screen.getByRole("region", { name: /matrix/ });
  Object.defineProperties(frame, { clientWidth: { value: 600 }, clientHeight: { value: 400 } });
  const stops = () => screen.getAllByRole("gridcell").filter((c) => c.tabIndex === 0).map((c) => c.dataset.at);
  const here = () => (document.activeElement as HTMLElement).dataset.at;
  const press = (key: string, how?: object) => fireEvent.keyDown(document.activeElement as HTMLElement, { key, ...how });
  return { frame, edit, stops, here, press, cell: (at: string) => screen.getAllByRole("gridcell").find((c) => c.dataset.at === at) as HTMLElement };
}

describe("the matrix by keys", () => {
  it("is one stop for Tab, wherever the arrows have gone", () => {
    const { stops, here, press, cell } = shown(3);
    expect(stops()).toEqual(["0 0"]);
    cell("0 0").focus();
    press("ArrowDown");
    press("ArrowRight");
    expect([here(), stops()]).toEqual(["1 1", ["1 1"]]);
    for (let i = 0; i < 5; i++) press("ArrowDown");
    expect(here()).toBe("2 1");
    press("End");
    press("Home", { ctrlKey: true });
    expect([here(), stops()]).toEqual(["0 0", ["0 0"]]);
  });
  it("comes to columns that are drawn only once they are scrolled to", () => {
    const { frame, stops, here, press, cell } = shown(60);
    expect(() => screen.getByText("Way 60")).toThrow();
    cell("0 0").focus();
    press("End");
    expect(frame.scrollLeft).toBe(60 * 164 - 600);
    fireEvent.scroll(frame);
    expect([here(), stops()]).toEqual(["0 59", ["0 59"]]);
    frame.scrollLeft = 0;
    fireEvent.scroll(frame);
    expect(stops()).toEqual(["0 0"]); // what Tab came to last is not drawn
  });
  it("takes a colour by its number for the cell that has the focus", () => {
    const { edit, press, cell } = shown(2);
    cell("0 0").focus();
    press("ArrowRight");
    press("1");
    const [label, how] = edit.mock.calls[0] as unknown as [string, (c: Job) => Job];
    expect(label).toBe("scarf in Way 2");
    const after = how({ colourways: [{ id: "w0", cells: {} }, { id: "w1", cells: {} }] } as unknown as Job);
    expect(after.colourways.map((w) => Object.keys(w.cells))).toEqual([[], ["scarf"]]);
  });
});
