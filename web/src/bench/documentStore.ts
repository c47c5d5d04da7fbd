import { api, explain, Problem, problemOf, unwrap, type Change, type Document, type Picture, type Stored } from "../api/client";
import { changesOf } from "../api/changes";
import { nowStored } from "../api/draft";
import { same } from "../api/identity";
import { watchRevisions } from "../api/watcher";
import { keep, kept, type Unsent } from "./unsent";

/** What waits to be done, in the order of the hands: edits, and undo or redo between them. */
type Step = { kind: "edit"; label: string; document: Document; change: (d: Document) => Document } | { kind: "move"; way: "undo" | "redo"; done: () => void };

export type Saving = "saved" | "saving" | "offline";

/** Letters of a step's label that the server takes: names in it may be long. */
export const mostLabel = 200;

/** How long a store that was opened before its page stays open without one, in milliseconds. */
const aheadOfPage = 10_000;

/** What a store asks of the world; a test gives its own. Each answer is waited for a limited time. */
export interface World {
  get(): Promise<Picture>;
  /** Gives what was stored, or the picture as somebody else made it meanwhile. */
  patch(base: number, label: string, changes: Change[] | undefined, document: Document): Promise<{ stored: Stored } | { newer: Picture }>;
  move(way: "undo" | "redo"): Promise<Picture>;
  /** Keeps what is not sent yet where a reload finds it; says whether that was possible. */
  keep(u: Unsent<Document>): boolean;
  kept(): Promise<Unsent<Document> | undefined>;
  watch(revision: () => number, heard: (revision: number) => void): () => void;
  wait(ms: number): Promise<void>;
}

/** How long the answer to an edit is waited for, in milliseconds, before it is sent again: by then the line is gone. */
const answerIn = 20000;

/** The server and this browser's storage. */
export function worldOf(id: string): World {
  const path = { params: { path: { picture: id } } };
  return {
    get: () => unwrap(api.GET("/api/pictures/{picture}", { ...path, signal: AbortSignal.timeout(answerIn) })),
    async patch(base, label, changes, document) {
      const signal = AbortSignal.timeout(answerIn);
      const { data, error, response } = changes
        ? await api.PATCH("/api/pictures/{picture}/document", { ...path, body: { base, label, changes }, signal })
        : await api.PUT("/api/pictures/{picture}/document", { ...path, body: { base, label, document }, signal });
      if (response.status === 409) return { newer: error as Picture };
      if (!data) throw problemOf(error, response.status);
      return { stored: data };
    },
    move: (way) => unwrap(way === "undo" ? api.POST("/api/pictures/{picture}/undo", path) : api.POST("/api/pictures/{picture}/redo", path)),
    keep: (u) => keep(id, u),
    kept: () => kept<Document>(id),
    watch: (revision, heard) => watchRevisions(id, revision, heard),
    wait: (ms) => new Promise((r) => setTimeout(r, ms)),
  };
}

/** What a page shows of a picture's document. */
export interface Shown {
  picture?: Picture;
  document: Document;
  saving: Saving;
  problem?: string;
  /** What somebody else made, where it has to be settled whose edits stay. */
  theirs?: Picture;
}

/**
 * The document of a picture, outliving the pages that show it: edits show at once, are sent one after the other (each one step
 * of the history), and are kept until the server has them. Undo and redo stand in the same queue: no press is lost, and an edit made
 * before the answer to an undo came goes on top of that answer.
 */
export class DocumentStore {
  shown: Shown = { document: { parts: [] }, saving: "saved" };
  private revision = 0;
  private queue: Step[] = [];
  private flushing: Promise<void> | undefined;
  private conflict = false;
  private heard = 0;
  private safe = true;
  private ready = false;
  private opening: Promise<void> | undefined;
  private fetched: Picture | undefined; // a moment ago, to see what kind it is: it need not be fetched again
  private deaf: (() => void) | undefined;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly id: string,
    private readonly world: World,
    /** Called whenever it has begun or ended to have edits that are not stored. */
    private readonly onRest: () => void = () => undefined,
  ) {}

  /** Edits that the server does not have yet. */
  get waiting() {
    return this.queue.length;
  }

  /** What waits is waiting for the hands to say whose edits stay. */
  get stuck() {
    return this.conflict;
  }

  /** Whether what waits would be lost with this tab. */
  get atRisk() {
    return this.queue.length > 0 && !this.safe;
  }

  get open() {
    return this.listeners.size > 0;
  }

  /** Shows the picture on a page: it is fetched, and what others make of it is followed until the page leaves. */
  subscribe(changed: () => void): () => void {
    this.listeners.add(changed);
    if (this.listeners.size === 1) this.opening = (this.opening ?? Promise.resolve()).then(() => this.load());
    return () => {
      this.listeners.delete(changed);
      if (this.open) return;
      this.deaf?.();
      this.deaf = undefined;
      this.onRest();
    };
  }

  /** Opens it before there is a page, with the picture as it was fetched a moment ago; resolves once there is what to show. */
  async openWith(p: Picture): Promise<void> {
    if (!this.open && !this.ready) this.fetched = p;
    setTimeout(this.subscribe(() => undefined), aheadOfPage);
    await this.opening;
  }

  private show(s: Partial<Shown>) {
    this.shown = { ...this.shown, ...s };
    for (const l of [...this.listeners]) l();
  }

  /** Takes what the server has; edits that wait are made again on top of it. */
  private take(p: Picture) {
    this.revision = p.revision;
    nowStored(this.id, p.revision, p.document);
    let next = p.document;
    for (const q of this.queue) if (q.kind === "edit") next = q.document = q.change(next);
    // What comes back is as a rule what is shown already: then nothing that hangs on it is made anew.
    this.show({ picture: p, document: same(next, this.shown.document) ? this.shown.document : next });
  }

  private save() {
    this.safe = this.world.keep({ base: this.revision, waiting: this.queue.flatMap((q) => (q.kind === "edit" ? [{ label: q.label, document: q.document }] : [])) });
    this.onRest();
  }

  /** Opens the picture: with what was not sent before a reload, as it is on the server otherwise. */
  private async load() {
    let { fetched } = this;
    this.fetched = undefined;
    while (this.open && !this.ready) {
      try {
        const p = fetched ?? (await this.world.get());
        fetched = undefined;
        let k = await this.world.kept();
        while (k) {
          // Of what waits, the server may have some already: only its answer did not arrive before the page went.
          const stored = k.waiting.findLastIndex((w) => same(w.document, p.document));
          if (stored < 0) break;
          k.base = p.revision;
          k.waiting.splice(0, stored + 1);
          this.world.keep(k);
          if (k.waiting.length > 0) break;
          k = await this.world.kept(); // and what a tab that is closed has left
        }
        const more = (k?.waiting ?? []).map((w): Step => ({ kind: "edit", ...w, change: () => w.document }));
        this.queue.unshift(...more);
        this.ready = true;
        this.take(p);
        if (k && more.length > 0 && k.base !== p.revision) {
          this.conflict = true;
          this.onRest();
          this.show({ theirs: p });
        } else void this.flush();
      } catch (e) {
        this.show({ problem: explain(e) });
        if (e instanceof Problem && e.status < 500) return;
        await this.world.wait(1500);
      }
    }
    if (!this.open) return;
    // Hears of edits made in other tabs and by other people, and of those made while no page was open.
    this.deaf ??= this.world.watch(() => this.revision, (revision) => {
      this.heard = Math.max(this.heard, revision);
      void this.catchUp();
    });
  }

  /** Takes what other tabs and other people made, once nothing of one's own is on its way. */
  private async catchUp() {
    while (this.heard > this.revision && this.queue.length === 0 && !this.flushing && this.open) {
      try {
        const p = await this.world.get();
        if (this.queue.length > 0 || this.flushing) return; // looked at again once that is stored
        if (p.revision > this.revision) this.take(p);
        this.heard = Math.min(this.heard, this.revision);
      } catch (e) {
        if (e instanceof Problem && e.status < 500) return;
        await this.world.wait(1500);
      }
    }
  }

  private flush(): Promise<void> {
    if (this.conflict || !this.ready) return Promise.resolve();
    this.flushing ??= this.send().finally(() => {
      this.flushing = undefined;
      this.onRest();
      void this.catchUp();
    });
    return this.flushing;
  }

  private async send() {
    for (let next = this.queue[0]; next; next = this.queue[0]) {
      this.show({ saving: "saving" });
      try {
        if (next.kind === "move") this.done(await this.world.move(next.way));
        else if (!(await this.sendEdit(next))) return;
      } catch (e) {
        if (next.kind === "move") {
          // Nothing to undo is no problem; one that may have been done already is not done twice.
          if (!(e instanceof Problem && e.status === 409)) this.show({ problem: explain(e) });
          this.queue.shift();
          next.done();
          if (!(e instanceof Problem)) this.heard = Infinity; // it may have been done: looked at again
        } else if (e instanceof Problem && e.status < 500) {
          await this.refused(e);
        } else {
          this.show({ saving: "offline" });
          await this.world.wait(1500);
        }
      }
    }
    if (this.heard === Infinity) this.heard = this.revision + 1;
    this.show({ saving: "saved" });
  }

  /** Sends an edit; false where somebody else was first and the hands have to say whose edits stay. */
  private async sendEdit(next: Step & { kind: "edit" }): Promise<boolean> {
    const base = this.shown.picture;
    const answer = await this.world.patch(this.revision, next.label, base && changesOf(base.document, next.document), next.document);
    if ("stored" in answer && base) {
      this.done({ ...base, ...answer.stored, document: next.document });
      return true;
    }
    if (!("newer" in answer)) return true;
    if (same(answer.newer.document, next.document)) {
      this.done(answer.newer); // it had been stored, only its answer was lost
      return true;
    }
    this.conflict = true;
    this.onRest();
    this.show({ theirs: answer.newer });
    return false;
  }

  private done(p: Picture) {
    const first = this.queue.shift();
    if (first?.kind === "move") first.done();
    this.take(p);
    this.save();
    this.show({ problem: undefined });
  }

  /** The server will never take the next edit: says why and goes back to what it has. */
  private async refused(why: Problem) {
    this.show({ problem: explain(why) });
    for (;;) {
      try {
        const p = await this.world.get();
        for (const q of this.queue.splice(0)) if (q.kind === "move") q.done();
        this.take(p);
        break;
      } catch (e) {
        if (e instanceof Problem && e.status < 500) {
          for (const q of this.queue.splice(0)) if (q.kind === "move") q.done();
          break;
        }
        await this.world.wait(1500);
      }
    }
    this.save();
  }

  edit(label: string, change: (d: Document) => Document) {
    const next = change(this.shown.document);
    this.queue.push({ kind: "edit", label: label.slice(0, mostLabel), document: next, change });
    this.save();
    this.show({ document: next, saving: "saving" });
    void this.flush();
  }

  /** Undo or redo, once what was done before it is stored. */
  move(way: "undo" | "redo"): Promise<void> {
    return new Promise((done) => {
      this.queue.push({ kind: "move", way, done });
      this.onRest();
      this.show({ saving: "saving" });
      void this.flush();
    });
  }

  /** Settles a conflict: mine goes on top of theirs (theirs stays in the history), or theirs is taken. */
  settle(mine: boolean) {
    const { theirs } = this.shown;
    if (!theirs) return;
    this.conflict = false;
    if (!mine) for (const q of this.queue.splice(0)) if (q.kind === "move") q.done();
    // Mine as I see it, not made again on top of theirs.
    for (const q of this.queue) if (q.kind === "edit") { const { document } = q; q.change = () => document; }
    this.take(theirs);
    this.save();
    this.show({ theirs: undefined, ...(mine ? {} : { saving: "saved" as const }) });
    void this.flush();
  }

  /** Asks for the picture afresh: something about it changed that is not an edit. */
  async refresh() {
    this.take(await this.world.get());
  }

  clearProblem() {
    this.show({ problem: undefined });
  }
}
