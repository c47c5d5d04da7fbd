import { useSyncExternalStore, type MouseEvent } from "react";

const heard = new Set<() => void>();
const tell = () => heard.forEach((f) => f());
addEventListener("popstate", tell);

/** The path of the page, kept up as it changes. */
export function usePath(): string {
  return useSyncExternalStore(
    (f) => {
      heard.add(f);
      return () => heard.delete(f);
    },
    () => location.pathname,
  );
}

/** Goes to another page without loading anew. */
export function go(path: string) {
  history.pushState(null, "", path);
  tell();
}

/** What a link does when it is pressed: goes there without loading anew, or leaves it to the browser where it is to open elsewhere. */
export function follow(path: string) {
  return (e: MouseEvent) => {
    if (e.button !== 0 || e.ctrlKey || e.metaKey || e.shiftKey || e.altKey) return;
    e.preventDefault();
    go(path);
  };
}
