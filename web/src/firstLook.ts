/** Takes away the quick look at the picture that stands there while the application loads. */
export function firstLookIsOver() {
  const img = document.getElementById("first-look");
  if (!img) return;
  img.remove();
  performance.mark("stage");
}
