import { describe, expect, it, vi } from "vitest";
import { Problem, type Job } from "../api/client";
import { random } from "../testing/random";
import { JobStore, type Content, type JobWorld, type KeptEdit } from "./jobStore";

const plain = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;
const way = (name: string) => ({ id: name, name, cells: {} }) as Job["colourways"][number];
const add = (name: string) => (c: Content): Content => ({ ...c, colourways: c.colourways.some((w) => w.id === name) ? c.colourways : [...c.colourways, way(name)] });
const names = (j?: { colourways: { id: string }[] }) => j?.colourways.map((w) => w.id).join(" ");

class Fake implements JobWorld {
  history: Content[] = [{ palette: [], colourways: [] }];
  step = 0;
  revision = 1;
  waiting: KeptEdit[] = [];
  line: ("through" | "lost" | "answer lost" | "fails" | "refuses")[] = [];
  waits: number[] = [];

  job(): Job {
    return { id: "j", name: "A job", pictures: [], trash: [], rows: [], ...plain(this.history[this.step] ?? { palette: [], colourways: [] }), revision: this.revision, undo: this.step > 0 ? "an edit" : "", redo: "", archived: false };
  }
  private async over<T>(does: () => T): Promise<T> {
    const how = this.line.shift() ?? "through";
    await Promise.resolve();
    if (how === "lost") throw new TypeError("Failed to fetch");
    if (how === "fails") throw new Problem("the database is being started again", "1", 503);
    if (how === "refuses") throw new Problem("colour 1: its name is empty or too long", "1", 422);
    const answer = does();
    if (how === "answer lost") throw new DOMException("timed out", "TimeoutError");
    return answer;
  }
  private made(c: Content) {
    this.history = [...this.history.slice(0, this.step + 1), plain(c)];
    this.step++;
    this.revision++;
  }
  get() { return this.over(() => this.job()); }
  put(base: number, _: string, c: Content) {
    return this.over(() => {
      if (base !== this.revision) return { newer: this.job() };
      this.made(c);
      return { stored: this.job() };
    });
  }
  move(by: "undo" | "redo") {
    return this.over(() => {
      const to = this.step + (by === "undo" ? -1 : 1);
      if (!this.history[to]) throw new Problem("there is nothing to undo", "1", 409);
      this.step = to;
      this.revision++;
      return this.job();
    });
  }
  inks() { return this.over(() => this.job()); }
  elsewhere(name: string) { this.made(add(name)(this.history[this.step] as Content)); }
  keep(w: KeptEdit[]) { this.waiting = plain(w); return true; }
  kept() { return Promise.resolve(plain(this.waiting)); }
  wait(ms: number) { this.waits.push(ms); return new Promise<void>((r) => setTimeout(r)); }
}

const settled = (s: JobStore) => vi.waitFor(() => expect(!s.shown.saving && s.waiting === 0).toBe(true), { timeout: 3000, interval: 1 });
function opened(w: Fake) {
  const s = new JobStore(w);
  const leave = s.subscribe(() => undefined);
  s.take(w.job());
  return { s, leave };
}

describe("JobStore", () => {
  it("shows an edit at once and stores it", async () => {
    const w = new Fake();
    const { s } = opened(w);
    void s.edit("new", add("one"));
    expect(names(s.shown.job)).toBe("one");
    expect(names(s.shown.stored)).toBe("");
    expect(s.shown.saving).toBe(true);
    await settled(s);
    expect(names(w.job())).toBe("one");
    expect(names(s.shown.stored)).toBe("one");
    expect(w.waiting).toEqual([]);
  });

  it.each(["lost", "answer lost", "fails"] as const)("sends again what is %s, waiting longer each time, and stores it once", async (how) => {
    const w = new Fake();
    const { s } = opened(w);
    w.line = [how, how, how, "through"];
    void s.edit("new", add("one"));
    void s.edit("new", add("two"));
    await vi.waitFor(() => expect(s.shown.problem).toBeTruthy(), { interval: 1 });
    await settled(s);
    expect(w.history.map((h) => names(h))).toEqual(["", "one", "one two"]);
    expect(s.shown.problem).toBeUndefined();
    if (how === "lost") expect(w.waits).toEqual([500, 1000, 2000]);
  });

  it("makes an edit again on top of what somebody else made", async () => {
    const w = new Fake();
    const { s } = opened(w);
    w.elsewhere("theirs");
    void s.edit("new", add("mine"));
    await settled(s);
    expect(names(w.job())).toBe("theirs mine");
    expect(names(s.shown.job)).toBe("theirs mine");
  });

  it("finds after a reload what was not stored, also where the job is another now", async () => {
    const w = new Fake();
    const { s } = opened(w);
    w.line = Array.from({ length: 40 }, () => "lost" as const);
    void s.edit("new", add("one"));
    void s.edit("new", add("two"));
    const after = new Fake();
    after.waiting = plain(w.waiting);
    expect(after.waiting.length).toBe(2);
    after.elsewhere("theirs");
    const next = opened(after);
    await vi.waitFor(() => expect(names(after.job())?.split(" ").sort().join(" ")).toBe("one theirs two"), { interval: 1 });
    await settled(next.s);
    expect(after.waiting).toEqual([]);
  });

  it("says why an edit is refused and shows what the server has", async () => {
    const w = new Fake();
    const { s } = opened(w);
    w.line = ["refuses"];
    void s.edit("new", add("one"));
    await settled(s);
    expect(s.shown.problem).toContain("its name is empty");
    expect(names(s.shown.job)).toBe("");
  });

  it("loses nothing on any line, whatever the hands do", async () => {
    const lines = ["lost", "answer lost", "fails", "through"] as const;
    for (let seed = 0; seed < 120; seed++) {
      const r = random(seed);
      let w = new Fake();
      let { s, leave } = opened(w);
      const made: string[] = [];
      for (let k = 0; k < 10; k++) {
        if (r() < 0.4) w.line = Array.from({ length: Math.floor(r() * 4) }, () => lines[Math.floor(r() * 4)] ?? "through");
        const what = r();
        if (what < 0.6) { made.push(`e${k}`); void s.edit("new", add(`e${k}`)); }
        else if (what < 0.75) { w.elsewhere(`o${k}`); made.push(`o${k}`); }
        else if (what < 0.85) {
          const gone = w;
          w = Object.assign(new Fake(), { history: gone.history, step: gone.step, revision: gone.revision, waiting: gone.waiting });
          gone.keep = () => true;
          gone.line = Array.from({ length: 1000 }, () => "refuses" as const);
          leave();
          ({ s, leave } = opened(w));
          await Promise.resolve();
        } else await new Promise((go) => setTimeout(go));
      }
      await settled(s);
      await new Promise((go) => setTimeout(go));
      await settled(s);
      expect(names(w.job())?.split(" ").filter(Boolean).sort(), `seed ${seed}`).toEqual(made.sort());
    }
  });
});
