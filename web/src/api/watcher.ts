import { api, unwrap } from "./client";

/** What tabs tell each other: what they want to hear of, and what the one that asks was told. */
type Message =
  | { kind: "who" }
  | { kind: "want"; tab: string; picture: string; after: number }
  | { kind: "leave"; tab: string; picture?: string }
  | { kind: "news"; picture: string; revision: number };

/**
 * Hears of pictures' new revisions with one call on its way for all tabs of the browser: the tab that holds the lock asks, and
 * tells the others. Where it is closed, the next one asks. Without locks (a plain address in a network) each tab asks for itself.
 */
class Watcher {
  private readonly tab = Math.random().toString(36).slice(2);
  private readonly channel = new BroadcastChannel("episema.revisions");
  private readonly mine = new Map<string, { after: () => number; heard: (revision: number) => void }>();
  private readonly wants = new Map<string, { known: number; tabs: Set<string> }>();
  private leading = false;
  private changed: () => void = () => undefined;

  constructor() {
    this.channel.onmessage = (e: MessageEvent<Message>) => this.hear(e.data);
    addEventListener("pagehide", () => this.say({ kind: "leave", tab: this.tab }));
    addEventListener("pageshow", () => this.want());
    const locks = navigator.locks as LockManager | undefined;
    if (locks) void locks.request("episema.watcher", () => this.lead());
    else void this.lead();
  }

  /** Calls heard with each newer revision of a picture, until what it gives is called. */
  watch(picture: string, after: () => number, heard: (revision: number) => void): () => void {
    this.mine.set(picture, { after, heard });
    this.want();
    return () => {
      this.mine.delete(picture);
      this.say({ kind: "leave", tab: this.tab, picture });
    };
  }

  private want() {
    for (const [picture, m] of this.mine) this.say({ kind: "want", tab: this.tab, picture, after: m.after() });
  }

  /** Tells all tabs, this one too. */
  private say(m: Message) {
    this.channel.postMessage(m);
    this.hear(m);
  }

  private hear(m: Message) {
    switch (m.kind) {
      case "who":
        this.want();
        return;
      case "news":
        this.mine.get(m.picture)?.heard(m.revision);
        return;
      case "want": {
        if (!this.leading) return;
        const w = this.wants.get(m.picture);
        if (w) {
          w.tabs.add(m.tab);
          if (w.known > m.after) this.say({ kind: "news", picture: m.picture, revision: w.known });
          return;
        }
        this.wants.set(m.picture, { known: m.after, tabs: new Set([m.tab]) });
        this.changed();
        return;
      }
      case "leave":
        for (const [picture, w] of this.wants) {
          if (m.picture !== undefined && m.picture !== picture) continue;
          w.tabs.delete(m.tab);
          if (w.tabs.size === 0 && this.wants.delete(picture)) this.changed();
        }
    }
  }

  private async lead(): Promise<never> {
    this.leading = true;
    let other = new Promise<void>((r) => (this.changed = r));
    this.say({ kind: "who" });
    for (;;) {
      if (this.wants.size === 0) await other;
      await new Promise((r) => setTimeout(r, 30)); // several tabs answer at once
      const stop = new AbortController();
      other = new Promise<void>((r) => {
        this.changed = () => {
          stop.abort();
          r();
        };
      });
      if (this.wants.size === 0) continue;
      try {
        const pictures = [...this.wants].slice(0, 500).map(([picture, w]) => ({ picture, revision: w.known }));
        const news = await unwrap(api.POST("/api/revisions", { body: { pictures }, signal: AbortSignal.any([stop.signal, AbortSignal.timeout(40000)]) }));
        for (const g of news.gone) this.wants.delete(g);
        for (const { picture, revision } of news.pictures) {
          const w = this.wants.get(picture);
          if (w) w.known = revision;
          this.say({ kind: "news", picture, revision });
        }
      } catch {
        if (!stop.signal.aborted) await new Promise((r) => setTimeout(r, 1500));
      }
    }
  }
}

let watcher: Watcher | undefined;

/** See Watcher.watch. */
export function watchRevisions(picture: string, after: () => number, heard: (revision: number) => void): () => void {
  watcher ??= new Watcher();
  return watcher.watch(picture, after, heard);
}
