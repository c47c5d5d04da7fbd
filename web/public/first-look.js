// Shows the picture where the stage will fit it, while the application is still on its way; the stage's first exact
// frame replaces it.
/* global location, innerWidth, innerHeight, devicePixelRatio, URLSearchParams, document, performance */
(() => {
  const id = /^\/pictures\/([0-9a-f-]{36})$/.exec(location.pathname)?.[1];
  if (!id) return;
  const width = Math.max(100, innerWidth - 332);
  const height = Math.max(100, innerHeight - 78);
  const size = Math.min(1600, Math.ceil(Math.max(width, height) * devicePixelRatio));
  const colourway = new URLSearchParams(location.search).get("colourway");
  const img = document.createElement("img");
  img.id = "first-look";
  img.alt = "";
  img.onload = () => performance.mark("first look");
  img.onerror = () => img.remove();
  img.src = `/api/pictures/${id}/cover?quick=true&size=${size}${colourway ? `&colourway=${encodeURIComponent(colourway)}` : ""}`;
  Object.assign(img.style, { position: "fixed", left: "0", top: "44px", width: `${width}px`, height: `${height}px`, padding: "24px", objectFit: "scale-down", background: "#8a8a8a", zIndex: "1", pointerEvents: "none" });
  document.body.append(img);
})();
