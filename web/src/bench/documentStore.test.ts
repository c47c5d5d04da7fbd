import jsonpatch from "fast-json-patch";
import { describe, expect, it, vi } from "vitest";
import { random } from "../testing/random";
import { Problem, type Change, type Document, type Picture } from "../api/client";
import { DocumentStore, type World } from "./documentStore";
import type { Unsent } from "./unsent";

vi.mock("../api/watcher", () => ({ watchRevisions: () => () => undefined }));

const plain = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;

/** A server in memory, on a line that can be slow, silent or cut, with the storage of one tab. */
class Fake implements World {
  history: Document[] = [{ parts: [] }];
  step = 0;
  revision = 1;
  stored: Unsent<Document> | undefined;
  room = true;
  /** What the line does with each call; what is not set goes through. */
  line: ("through" | "lost" | "answer lost" | "fails" | "refuses")[] = [];
  calls = 0;
  heard: ((r: number) => void) | undefined;

  get document() {
    return this.history[this.step] ?? { parts: [] };
  }
  picture(): Picture {
    return { id: "p", revision: this.revision, document: plain(this.document), undo: this.step > 0 ? "an edit" : "", redo: "" } as unknown as Picture;
  }
  private async over<T>(does: () => T): Promise<T> {
    this.calls++;
    const how = this.line.shift() ?? "through";
    await Promise.resolve();
    if (how === "lost") throw new TypeError("Failed to fetch");
    if (how === "fails") throw new Problem("that did not work on the server", "1", 500);
    if (how === "refuses") throw new Problem("part 1: it has no name; give it one", "1", 422);
    const answer = does();
    if (how === "answer lost") throw new DOMException("timed out", "TimeoutError");
    return answer;
  }
  get() {
    return this.over(() => this.picture());
  }
  patch(base: number, _: string, changes: Change[] | undefined, document: Document) {
    return this.over(() => {
      if (base !== this.revision) return { newer: this.picture() };
      const next = changes ? jsonpatch.applyPatch(plain(this.document), plain(changes) as never, true, true).newDocument : plain(document);
      this.history = [...this.history.slice(0, this.step + 1), next];
      this.step++;
      this.revision++;
      return { stored: { revision: this.revision, undo: "an edit", redo: "" } };
    });
  }
  move(way: "undo" | "redo") {
    return this.over(() => {
      const to = this.step + (way === "undo" ? -1 : 1);
      if (!this.history[to]) throw new Problem("there is nothing to undo", "1", 409);
      this.step = to;
      this.revision++;
      return this.picture();
    });
  }
  /** Somebody else edits. */
  elsewhere(name: string) {
    this.history = [...this.history.slice(0, this.step + 1), { ...this.document, parts: [...this.document.parts, part(name)] }];
    this.step++;
    this.revision++;
  }
  keep(u: Unsent<Document>) {
    if (u.waiting.length === 0) this.stored = undefined;
    else if (this.room) this.stored = plain(u);
    return this.room || u.waiting.length === 0;
  }
  kept() {
    return Promise.resolve(this.stored);
  }
  watch(_: () => number, heard: (r: number) => void) {
    this.heard = heard;
    return () => { this.heard = undefined; };
  }
  wait() {
    return new Promise<void>((r) => setTimeout(r));
  }
}

const part = (name: string) => ({ id: name, name, picks: [], target: {}, settings: {} }) as unknown as Document["parts"][number];
const add = (name: string) => (d: Document): Document => ({ ...d, parts: d.parts.some((p) => p.id === name) ? d.parts : [...d.parts, part(name)] });
const names = (d: Document) => d.parts.map((p) => p.id).join(" ");
const settled = (s: DocumentStore) => vi.waitFor(() => expect(s.shown.saving === "saved" && s.waiting === 0).toBe(true), { timeout: 3000, interval: 1 });

async function opened(world: Fake) {
  const s = new DocumentStore("p", world);
  const leave = s.subscribe(() => undefined);
  await vi.waitFor(() => expect(s.shown.picture).toBeDefined(), { interval: 1 });
  return { s, leave };
}

describe("DocumentStore", () => {
  it("shows an edit at once and says saved only when the server has it", async () => {
    const w = new Fake();
    const { s } = await opened(w);
    s.edit("add", add("mug"));
    expect(names(s.shown.document)).toBe("mug");
    expect(s.shown.saving).toBe("saving");
    expect(names(w.document)).toBe("");
    await settled(s);
    expect(names(w.document)).toBe("mug");
    expect(s.shown.picture?.undo).toBe("an edit");
  });

  it.each(["lost", "answer lost", "fails"] as const)("sends an edit again whose call is %s, and stores it once", async (how) => {
    const w = new Fake();
    const { s } = await opened(w);
    w.line = [how, how, "through"];
    s.edit("add", add("mug"));
    s.edit("add", add("cap"));
    await settled(s);
    expect(names(w.document)).toBe("mug cap");
    expect(w.history.map(names)).toEqual(["", "mug", "mug cap"]);
    expect(s.shown.theirs).toBeUndefined();
  });

  it("goes on sending when the page is left, and tells when everything is stored", async () => {
    const w = new Fake();
    const rest = vi.fn();
    const s = new DocumentStore("p", w, rest);
    const leave = s.subscribe(() => undefined);
    await vi.waitFor(() => expect(s.shown.picture).toBeDefined(), { interval: 1 });
    w.line = ["lost", "lost", "lost"];
    s.edit("add", add("mug"));
    leave();
    expect(s.open).toBe(false);
    await settled(s);
    expect(names(w.document)).toBe("mug");
    expect(rest).toHaveBeenCalled();
    // Who comes back sees what was made, and what others made meanwhile.
    w.elsewhere("cap");
    s.subscribe(() => undefined);
    await vi.waitFor(() => expect(w.heard).toBeDefined(), { interval: 1 });
    w.heard?.(w.revision);
    await vi.waitFor(() => expect(names(s.shown.document)).toBe("mug cap"), { interval: 1 });
  });

  it("opens with a picture that was fetched a moment ago, and leaves it where it has a newer one", async () => {
    vi.useFakeTimers({ toFake: ["setTimeout"] });
    const w = new Fake();
    const before = w.picture();
    const s = new DocumentStore("p", w);
    await s.openWith(before);
    expect(s.shown.picture?.revision).toBe(1);
    expect(w.calls).toBe(0);
    const leave = s.subscribe(() => undefined);
    vi.advanceTimersByTime(20_000);
    expect(s.open).toBe(true);
    leave();
    expect(s.open).toBe(false);
    vi.useRealTimers();
    s.subscribe(() => undefined);
    s.edit("add", add("mug"));
    await settled(s);
    await s.openWith(before);
    expect(names(s.shown.document)).toBe("mug");
    expect(s.shown.picture?.revision).toBe(2);
    // What came too late for one store is not what the next opens with.
    const next = await opened(w);
    expect(names(next.s.shown.document)).toBe("mug");
  });

  it("keeps what is not sent for the next time the picture is opened", async () => {
    const w = new Fake();
    const { s } = await opened(w);
    w.line = Array.from({ length: 50 }, () => "lost" as const);
    s.edit("add", add("mug"));
    s.edit("add", add("cap"));
    await vi.waitFor(() => expect(s.shown.saving).toBe("offline"), { interval: 1 });
    // The tab is gone: another store finds what it left.
    const after = new Fake();
    after.stored = w.stored;
    const next = await opened(after);
    await settled(next.s);
    expect(after.history.map(names)).toEqual(["", "mug", "mug cap"]);
    expect(after.stored).toBeUndefined();
  });

  it("does not send again what was stored though its answer was lost with the page", async () => {
    const w = new Fake();
    w.stored = { base: 1, waiting: [{ label: "add", document: { parts: [part("mug")] } }, { label: "add", document: { parts: [part("mug"), part("cap")] } }] };
    w.elsewhere("mug"); // the very same document as the first that waits
    const { s } = await opened(w);
    await settled(s);
    expect(s.shown.theirs).toBeUndefined();
    expect(w.history.map(names)).toEqual(["", "mug", "mug cap"]);
  });

  it("finds what a closed tab left behind what the tab itself had stored already", async () => {
    const w = new Fake();
    w.elsewhere("mug");
    const left = [{ base: 1, waiting: [{ label: "add", document: { parts: [part("mug")] } }] }, { base: 1, waiting: [{ label: "add", document: { parts: [part("cap")] } }] }];
    w.kept = () => Promise.resolve(left.shift());
    const { s } = await opened(w);
    expect(s.shown.theirs).toBeDefined(); // it was made on what the picture was before
    s.settle(true);
    await settled(s);
    expect(names(w.document)).toBe("cap");
  });

  it("asks whose edits stay where somebody else was first, and loses neither", async () => {
    for (const mine of [true, false]) {
      const w = new Fake();
      const { s } = await opened(w);
      w.elsewhere("theirs");
      s.edit("add", add("mine"));
      await vi.waitFor(() => expect(s.shown.theirs).toBeDefined(), { interval: 1 });
      expect(names(s.shown.document)).toBe("mine");
      expect(s.stuck).toBe(true); // an order does not wait for hands
      s.settle(mine);
      expect(s.stuck).toBe(false);
      await settled(s);
      expect(names(w.document)).toBe(mine ? "mine" : "theirs");
      expect(names(s.shown.document)).toBe(names(w.document));
      expect(w.history.some((d) => names(d) === "theirs")).toBe(true);
    }
  });

  it("makes edits that were made during an undo again on top of it", async () => {
    const w = new Fake();
    const { s } = await opened(w);
    s.edit("add", add("mug"));
    void s.move("undo");
    s.edit("add", add("cap"));
    await settled(s);
    expect(names(w.document)).toBe("cap");
    expect(names(s.shown.document)).toBe("cap");
  });

  it("says why an edit is refused and shows what the server has", async () => {
    const w = new Fake();
    const { s } = await opened(w);
    w.line = ["refuses"];
    s.edit("add", add("mug"));
    await settled(s);
    expect(s.shown.problem).toContain("give it one");
    expect(names(s.shown.document)).toBe("");
    expect(w.stored).toBeUndefined();
  });

  it("finds out what became of an undo whose answer was lost, and does not do it twice", async () => {
    const w = new Fake();
    const { s } = await opened(w);
    s.edit("add", add("mug"));
    s.edit("add", add("cap"));
    await settled(s);
    w.line = ["answer lost"];
    await s.move("undo");
    await vi.waitFor(() => expect(names(s.shown.document)).toBe("mug"), { interval: 1 });
    expect(names(w.document)).toBe("mug");
  });

  it("says that work is at risk where the browser keeps nothing", async () => {
    const w = new Fake();
    w.room = false;
    const { s } = await opened(w);
    w.line = ["lost", "lost"];
    s.edit("add", add("mug"));
    expect(s.atRisk).toBe(true);
    await settled(s);
    expect(s.atRisk).toBe(false);
  });

  it("loses nothing and asks nothing on any line, whatever the hands do", async () => {
    const lines = ["lost", "answer lost", "fails", "through"] as const;
    for (let seed = 0; seed < 150; seed++) {
      const r = random(seed);
      let w = new Fake();
      let { s, leave } = await opened(w);
      const made: string[] = [];
      for (let k = 0; k < 12; k++) {
        if (r() < 0.4) w.line = Array.from({ length: Math.floor(r() * 4) }, () => lines[Math.floor(r() * 4)] ?? "through");
        const what = r();
        if (what < 0.6) {
          made.push(`e${k}`);
          s.edit("add", add(`e${k}`));
        } else if (what < 0.75) {
          leave();
          leave = s.subscribe(() => undefined);
        } else if (what < 0.85) {
          // The tab is closed at any moment, with its calls on their way, and opened anew.
          const gone = w;
          w = Object.assign(new Fake(), { history: gone.history, step: gone.step, revision: gone.revision, stored: gone.stored, line: gone.line });
          gone.keep = () => true;
          gone.line = Array.from({ length: 1000 }, () => "refuses" as const);
          leave();
          ({ s, leave } = await opened(w));
        } else await new Promise((go) => setTimeout(go));
      }
      await settled(s);
      expect(names(s.shown.document), `seed ${seed}`).toBe(made.join(" "));
      expect(names(w.document), `seed ${seed}`).toBe(made.join(" "));
      expect(s.shown.theirs, `seed ${seed}`).toBeUndefined();
      leave();
    }
  });
});
