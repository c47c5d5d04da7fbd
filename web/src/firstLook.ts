import { useEffect, useState, useSyncExternalStore } from "react";
import { fetchTheRest } from "./look/later";

let over = false;
let drawn = false; // and the screen was drawn with what came instead
const told = new Set<() => void>();

/** Takes away the quick look at the picture that stands there while the application loads. */
export function firstLookIsOver() {
  if (over) return;
  over = true;
  setTimeout(() => void fetchTheRest(), 300); // after what the first picture still asks for
  requestAnimationFrame(() => setTimeout(() => {
    drawn = true;
    for (const tell of told) tell();
  }));
  const img = document.getElementById("first-look");
  if (!img) return;
  img.remove();
  performance.mark("stage");
}

const longest = 1500; // ms that something waits for the first picture

/** Whether the first picture is there, or longer in coming than so many milliseconds: what does not show it waits for that. */
export function useFirstLookOver(within = longest) {
  const [late, setLate] = useState(within === 0);
  useEffect(() => {
    const t = setTimeout(() => setLate(true), within);
    return () => clearTimeout(t);
  }, [within]);
  const there = useSyncExternalStore(follow, () => drawn);
  return there || late;
}

function follow(tell: () => void) {
  told.add(tell);
  return () => { told.delete(tell); };
}
