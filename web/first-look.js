// Stands in the page itself, before all else (finish.mjs): what a picture's page will need is asked for at once, and the picture is
// shown where the stage will fit it, while the application is still on its way. The stage's first exact frame replaces it.
/* global location, innerWidth, innerHeight, devicePixelRatio, URLSearchParams, MutationObserver, document, window, performance, fetch */
(() => {
  const id = /^\/pictures\/([0-9a-f-]{36})$/.exec(location.pathname)?.[1];
  if (!id) return;
  const width = Math.max(100, innerWidth - 332);
  const height = Math.max(100, innerHeight - 78);
  const size = Math.min(1600, Math.ceil(Math.max(width, height) * devicePixelRatio));
  const colourway = new URLSearchParams(location.search).get("colourway");
  const early = { id, room: { width, height }, coming: fetch(`/api/pictures/${id}`).then((r) => (r.ok ? r.json() : undefined)).then((p) => (early.picture = p), () => undefined) };
  window.early = early;
  const img = document.createElement("img");
  img.id = "first-look";
  img.alt = "";
  img.fetchPriority = "high"; // before the scripts, which take every connection there is
  img.onload = () => performance.mark("first look");
  img.onerror = () => img.remove();
  img.src = `/api/pictures/${id}/cover?quick=true&size=${size}${colourway ? `&colourway=${encodeURIComponent(colourway)}` : ""}`;
  Object.assign(img.style, { position: "fixed", left: "0", top: "44px", width: `${width}px`, height: `${height}px`, padding: "24px", objectFit: "scale-down", background: "#8a8a8a", zIndex: "1", pointerEvents: "none" });
  new MutationObserver((_, seen) => {
    if (!document.body) return;
    seen.disconnect();
    document.body.append(img);
  }).observe(document.documentElement, { childList: true });
})();
