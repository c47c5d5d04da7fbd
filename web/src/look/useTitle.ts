import { useEffect } from "react";

/** Names the page in the browser's tab and history, while it is open. */
export function useTitle(name: string | undefined) {
  useEffect(() => {
    document.title = name ? `${name} · Episema` : "Episema";
    return () => {
      document.title = "Episema";
    };
  }, [name]);
}
