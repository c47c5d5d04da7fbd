import { fetchTheRest } from "./look/later";

let over = false;

/** Takes away the quick look at the picture that stands there while the application loads. */
export function firstLookIsOver() {
  if (!over) setTimeout(() => void fetchTheRest(), 300); // after what the first picture still asks for
  over = true;
  const img = document.getElementById("first-look");
  if (!img) return;
  img.remove();
  performance.mark("stage");
}
