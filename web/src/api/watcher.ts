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
  private gone = new AbortController();

  constructor() {
    this.channel.onmessage = (e: MessageEvent<Message>) => this.hear(e.data);
    // A page that is left may be kept frozen to come back to: it must not hold the lock, nor wait for it.
    addEventListener("pagehide", () => {
      this.gone.abort();
      this.say({ kind: "leave", tab: this.tab });
    });
    addEventListener("pageshow", (e) => {
      if (e.persisted) this.begin();
      this.want();
    });
    this.begin();
  }

  private begin() {
    this.gone = new AbortController();
    const { signal } = this.gone;
    const locks = navigator.locks as LockManager | undefined;
    if (locks) locks.request("episema.watcher", { signal }, () => this.lead(signal)).catch(() => undefined); // it was left while it waited
    else void this.lead(signal);
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

  /** Asks for all tabs until the page is left. */
  private async lead(left: AbortSignal): Promise<void> {
    this.leading = true;
    left.addEventListener("abort", () => {
      this.leading = false;
      this.wants.clear();
      this.changed();
    });
    let other = new Promise<void>((r) => (this.changed = r));
    this.say({ kind: "who" });
    let others = true; // may want something anew
    while (!left.aborted) {
      if (this.wants.size === 0) await other;
      // Several tabs answer at once. Only then is there a wait: timers of a tab that nobody sees may take a minute.
      if (others) await new Promise((r) => setTimeout(r, 30));
      others = false;
      const stop = new AbortController();
      other = new Promise<void>((r) => {
        this.changed = () => {
          others = true;
          stop.abort();
          r();
        };
      });
      if (this.wants.size === 0 || left.aborted) continue;
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
