import { api, explain, Problem, problemOf, unwrap, type Colourway, type Job, type Swatch } from "../api/client";
import { same } from "../api/identity";
import { merge } from "../api/merge";
import { mostLabel } from "../bench/documentStore";
import { keep, kept } from "../bench/unsent";
import * as words from "../words/api";

export interface Content {
  recipes?: Job["recipes"];
  palette: Swatch[];
  colourways: Colourway[];
  inks?: Job["inks"];
}

/** An edit as it is kept for a reload: what it made of what. */
export interface KeptEdit {
  label: string;
  before: Content;
  after: Content;
}

type Step =
  | { kind: "edit"; label: string; change: (c: Content) => Content; kept: KeptEdit; done: () => void }
  | { kind: "move"; way: "undo" | "redo"; done: () => void }
  | { kind: "inks"; name: string; file: Blob; done: () => void };

/** What a store asks of the world; a test gives its own. Each answer is waited for a limited time. */
export interface JobWorld {
  get(): Promise<Job>;
  put(base: number, label: string, content: Content): Promise<{ stored: Job } | { newer: Job }>;
  move(way: "undo" | "redo"): Promise<Job>;
  inks(base: number, name: string, file: Blob): Promise<Job>;
  keep(waiting: KeptEdit[]): boolean;
  kept(): Promise<KeptEdit[]>;
  wait(ms: number): Promise<void>;
}

const answerIn = 20000;

export function worldOfJob(id: string): JobWorld {
  const path = { params: { path: { job: id } } };
  const signal = () => AbortSignal.timeout(answerIn);
  return {
    get: () => unwrap(api.GET("/api/jobs/{job}", { ...path, signal: signal() })),
    async put(base, label, c) {
      const { data, error, response } = await api.PUT("/api/jobs/{job}/content", { ...path, body: { base, label, palette: c.palette, colourways: c.colourways, inks: c.inks, recipes: c.recipes }, signal: signal() });
      if (response.status === 409) return { newer: error as Job };
      if (!data) throw problemOf(error, response.status);
      return { stored: data };
    },
    move: (way) => unwrap(way === "undo" ? api.POST("/api/jobs/{job}/undo", { ...path, signal: signal() }) : api.POST("/api/jobs/{job}/redo", { ...path, signal: signal() })),
    inks: (base, name, file) => unwrap(api.PUT("/api/jobs/{job}/inks", { params: { path: { job: id }, query: { name: name.slice(0, mostLabel), base } }, body: file as unknown as string, bodySerializer: (b) => b as unknown as Blob, headers: { "Content-Type": "application/octet-stream" } })),
    keep: (waiting) => keep(id, { base: 0, waiting: waiting.map((w) => ({ label: w.label, document: [w.before, w.after] as [Content, Content] })) }),
    kept: async () => (await kept<[Content, Content]>(id))?.waiting.map((w) => ({ label: w.label, before: w.document[0], after: w.document[1] })) ?? [],
    wait: (ms) => new Promise((r) => setTimeout(r, ms)),
  };
}

export interface ShownJob {
  /** As the hands have it. */
  job?: Job;
  /** As the server has it: what it is asked to measure and to render. */
  stored?: Job;
  saving: boolean;
  problem?: string;
}

const contentOf = (j: Job): Content => ({ palette: j.palette, colourways: j.colourways, inks: j.inks, recipes: j.recipes });

/** The content as the server takes it: without what it says itself about colours. */
const bare = (c: Content): Content => ({ ...c, palette: c.palette.map(({ id, name, css, tolerance }) => ({ id, name, css, tolerance })) });

/**
 * A job's palette and colourways, outliving the pages that show them. Edits show at once and are stored one after the other, each a
 * step that can be undone; where somebody else was first, the edit is made again on top of what they made. A change is made more than
 * once, so it gives the same for the same content. What is not stored yet is kept for a reload.
 */
export class JobStore {
  shown: ShownJob = { saving: false };
  private queue: Step[] = [];
  private flushing: Promise<void> | undefined;
  private safe = true;
  private looked = false;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly world: JobWorld,
    private readonly onRest: () => void = () => undefined,
    /** Told of what the server has whenever it has something new. */
    private readonly onStored: (j: Job) => void = () => undefined,
  ) {}

  get waiting() {
    return this.queue.length;
  }
  /** Edits of a job are merged: nobody is asked. */
  readonly stuck = false;
  get atRisk() {
    return this.queue.length > 0 && (!this.safe || this.queue.some((q) => q.kind === "inks"));
  }
  get open() {
    return this.listeners.size > 0;
  }

  subscribe(changed: () => void): () => void {
    this.listeners.add(changed);
    return () => {
      this.listeners.delete(changed);
      this.onRest();
    };
  }

  private show(s: Partial<ShownJob>) {
    this.shown = { ...this.shown, ...s };
    for (const l of [...this.listeners]) l();
  }

  /** Takes the job as the server has it; edits that wait are made again on top of it. */
  take(j: Job) {
    if (this.shown.stored && j.revision < this.shown.stored.revision) return;
    let content = contentOf(j);
    for (const q of this.queue) if (q.kind === "edit") content = q.change(content);
    this.show({ stored: j, job: { ...j, ...content } });
    if (!this.looked) void this.look();
  }

  /** Finds what a page before did not get stored. */
  private async look(): Promise<void> {
    this.looked = true;
    const all = await this.world.kept();
    const from = this.shown.stored && bare(contentOf(this.shown.stored));
    // Of what waits, the server may have some already: only its answer did not arrive before the page went.
    const left = all.slice(all.findLastIndex((k) => same(k.after, from)) + 1);
    if (all.length === 0) return;
    if (left.length === 0) {
      this.save();
      return this.look(); // and what a tab that is closed has left
    }
    const again = left.map((k): Step => ({ kind: "edit", label: k.label, kept: k, change: (c) => merge<Content>(k.before, k.after, c), done: () => undefined }));
    this.queue.unshift(...again);
    this.save();
    if (this.shown.stored) this.take(this.shown.stored);
    void this.flush();
  }

  private save() {
    this.safe = this.world.keep(this.queue.flatMap((q) => (q.kind === "edit" ? [q.kept] : [])));
    this.onRest();
  }

  private push(q: Step) {
    this.queue.push(q);
    this.save();
    this.show({ saving: true });
    void this.flush();
  }

  edit(label: string, change: (c: Content) => Content): Promise<void> {
    return new Promise((done) => {
      const now = this.shown.job;
      const before = now && contentOf(now);
      const after = before && change(before);
      if (now && after) this.show({ job: { ...now, ...after } });
      const nothing = { palette: [], colourways: [] };
      this.push({ kind: "edit", label: label.slice(0, mostLabel), change, kept: { label, before: bare(before ?? nothing), after: bare(after ?? nothing) }, done });
    });
  }

  move(way: "undo" | "redo"): Promise<void> {
    return new Promise((done) => this.push({ kind: "move", way, done }));
  }

  /** Brings the profile in through which the job's CMYK colours are read. */
  inks(file: File): Promise<void> {
    return new Promise((done) => this.push({ kind: "inks", name: file.name, file, done }));
  }

  clearProblem() {
    this.show({ problem: undefined });
  }

  private flush(): Promise<void> {
    this.flushing ??= this.send().finally(() => {
      this.flushing = undefined;
      this.onRest();
    });
    return this.flushing;
  }

  private next(problem?: string) {
    this.queue.shift()?.done();
    this.save();
    this.show({ problem });
  }

  private stored(j: Job) {
    this.next();
    this.take(j);
    this.onStored(j);
  }

  private async send() {
    let wait = 500;
    for (let q = this.queue[0]; q; q = this.queue[0]) {
      try {
        const from = this.shown.stored ?? (await this.world.get());
        if (!this.shown.stored) this.take(from);
        if (q.kind === "move") this.stored(await this.world.move(q.way));
        else if (q.kind === "inks") this.stored(await this.world.inks(from.revision, q.name, q.file));
        else await this.sendEdit(q, from);
        wait = 500;
      } catch (e) {
        const away = !(e instanceof Problem) || e.status >= 500;
        if (away && q.kind !== "move") {
          this.show({ problem: explain(e) });
          await this.world.wait(wait);
          wait = Math.min(2 * wait, 8000);
          continue;
        }
        // Nothing to undo is no problem; one that may have been done already is not done twice. What the server will never take is let go.
        const nothing = q.kind === "move" && e instanceof Problem && e.status === 409;
        this.next(nothing ? undefined : q.kind === "inks" && e instanceof Problem && e.status === 409 ? words.somebodyElseChangedTheJobMeanwhile : explain(e));
        await this.again();
      }
    }
    this.show({ saving: false });
  }

  private async sendEdit(q: Step & { kind: "edit" }, from: Job) {
    const content = contentOf(from);
    const next = q.change(content);
    if (same(bare(next), bare(content))) {
      this.next(); // it had been stored, only its answer was lost
      this.take(from);
      return;
    }
    const answer = await this.world.put(from.revision, q.label, next);
    if ("newer" in answer) this.take(answer.newer);
    else this.stored(answer.stored);
  }

  /** Looks at what the server has, once it answers. */
  private async again() {
    for (;;) {
      try {
        const j = await this.world.get();
        this.take(j);
        this.onStored(j);
        return;
      } catch (e) {
        if (e instanceof Problem && e.status < 500) return;
        await this.world.wait(1500);
      }
    }
  }
}
