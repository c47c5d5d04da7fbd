import { useEffect } from "react";
import * as words from "../words/look";

/** Names the page in the browser's tab and history, while it is open. */
export function useTitle(name: string | undefined) {
  useEffect(() => {
    document.title = name ? words.nameEpisema(name) : words.episemaHigh;
    return () => {
      document.title = words.episemaHigh;
    };
  }, [name]);
}
