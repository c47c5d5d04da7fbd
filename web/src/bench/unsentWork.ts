import { useSyncExternalStore } from "react";
import { DocumentStore, worldOf } from "./documentStore";

/** Pictures that are shown, and those that were left with edits which the server does not have yet. */
const stores = new Map<string, DocumentStore>();
const listeners = new Set<() => void>();

/** Work of a job that is on its way, by whom it is sent. */
const others = new Map<object, number>();

let count = 0;

function changed() {
  for (const [id, s] of stores) if (!s.open && s.waiting === 0) stores.delete(id);
  count = [...stores.values()].reduce((n, s) => n + s.waiting, 0) + [...others.values()].reduce((n, k) => n + k, 0);
  for (const l of [...listeners]) l();
}

/** The store of a picture's document: the one that is still sending, where the picture was left a moment ago. */
export function documentStore(id: string): DocumentStore {
  let s = stores.get(id);
  if (!s) stores.set(id, (s = new DocumentStore(id, worldOf(id), changed)));
  return s;
}

/** Says how much of something else, a job say, is not stored yet. */
export function stillUnsent(of: object, n: number) {
  if (n > 0) others.set(of, n);
  else others.delete(of);
  changed();
}

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => { listeners.delete(l); };
};

/** How many edits, of any picture or job, the server does not have yet. */
export const useUnsent = () => useSyncExternalStore(subscribe, () => count);

/** Resolves once the server has everything: an order is of what was seen. */
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
  if ([...stores.values()].some((s) => s.atRisk) || others.size > 0) e.preventDefault();
});
