import { useSyncExternalStore } from "react";

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
