import { useSyncExternalStore } from "react";
import { DocumentStore, worldOf } from "./documentStore";

/** What sends edits to the server. */
interface Sending {
  /** A page shows it. */
  readonly open: boolean;
  /** Edits that the server does not have yet. */
  readonly waiting: number;
  /** It waits for the hands, not for the line. */
  readonly stuck: boolean;
  /** What waits would be lost with this tab. */
  readonly atRisk: boolean;
}

/** Pictures and jobs that are shown, and those that were left with edits which the server does not have yet. */
const stores = new Map<string, Sending>();
const listeners = new Set<() => void>();
let count = 0;
let stuck = 0;

/** Something about a store is another: one that no page shows and that has sent everything is let go. */
function changed(name: string, s: Sending) {
  if (s.open || s.waiting > 0) stores.set(name, s);
  else stores.delete(name);
  const waiting = (of: boolean) => [...stores.values()].reduce((n, q) => n + (q.stuck === of ? q.waiting : 0), 0);
  [count, stuck] = [waiting(false), waiting(true)];
  for (const l of [...listeners]) l();
}

/** The store under a name: the one that is still sending, where its page was left a moment ago. */
export function unsentStore<S extends Sending>(name: string, make: (changed: () => void) => S): S {
  const there = stores.get(name) as S | undefined;
  if (there) return there;
  const s: S = make(() => changed(name, s));
  stores.set(name, s);
  return s;
}

/** The store of a picture's document. */
export const documentStore = (id: string): DocumentStore => unsentStore(`picture ${id}`, (changed) => new DocumentStore(id, worldOf(id), changed));

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => { listeners.delete(l); };
};

/** How many edits, of any picture or job, are on their way to the server. */
export const useUnsent = () => useSyncExternalStore(subscribe, () => count);

/** How many edits wait until somebody says whose stay. */
export const useStuck = () => useSyncExternalStore(subscribe, () => stuck);

/** Resolves once nothing is on its way any more: an order is of what was seen. */
export function allStored(): Promise<void> {
  return new Promise((done) => {
    const stop = subscribe(() => look());
    const look = () => {
      if (count > 0) return;
      stop();
      done();
    };
    look();
  });
}

// Where the browser keeps nothing, work that is not stored is in this page alone.
addEventListener("beforeunload", (e) => {
  if ([...stores.values()].some((s) => s.atRisk)) e.preventDefault();
});
