import { useSyncExternalStore } from "react";
import { fetchTheRest } from "./look/later";

let over = false;
const told = new Set<() => void>();

/** Takes away the quick look at the picture that stands there while the application loads. */
export function firstLookIsOver() {
  if (over) return;
  over = true;
  setTimeout(() => void fetchTheRest(), 300); // after what the first picture still asks for
  for (const tell of told) tell();
  const img = document.getElementById("first-look");
  if (!img) return;
  img.remove();
  performance.mark("stage");
}

const longest = 1500; // ms that something waits for the first picture

/** Whether the first picture is there, or long in coming: what does not show it waits for that. */
export function useFirstLookOver() {
  return useSyncExternalStore(follow, () => over || late);
}

let late = false;

function follow(tell: () => void) {
  told.add(tell);
  const t = setTimeout(() => { late = true; tell(); }, longest);
  return () => {
    clearTimeout(t);
    told.delete(tell);
  };
}
