// Stands in the page itself, before all else (finish.mjs): what a picture's page will need is asked for at once, and the picture is shown where
// the stage will fit it, quickly and then exactly, while the application is still on its way. The stage's first frame replaces it.
import type { Picture } from "../api/client";
import { askForFirstView, type Asked } from "../bench/stage/firstView";
import type { Early } from "../early";
import { kindOf } from "../kind";

/** The modules of a picture's page (finish.mjs). */
declare const modules: string[];
/** The one that starts the application, on any page. */
declare const start: string;

/** How soon a server that is near sends the page, which it has to read the picture for, in milliseconds. */
const near = 30;
/** How long the application waits for the exact picture at most, in milliseconds. */
const longest = 150;

const id = /^\/pictures\/([0-9a-f-]{36})$/.exec(location.pathname)?.[1];
const [navigation] = performance.getEntriesByType("navigation") as PerformanceNavigationTiming[];
// Over a quick line what works out views and scripts would take from each other.
const quick = !!navigation && navigation.responseStart - navigation.requestStart < near;

let begun = false;

/** Fetches the application, and starts it. */
function begin() {
  if (begun) return;
  begun = true;
  const head = document.head;
  for (const href of id ? modules : []) head.append(Object.assign(document.createElement("link"), { rel: "modulepreload", crossOrigin: "", href }));
  head.append(Object.assign(document.createElement("script"), { type: "module", crossOrigin: "", src: start }));
}

/** Shows a picture where the stage will be, until the stage is there. */
function look(of: string) {
  const room = { width: Math.max(100, innerWidth - 332), height: Math.max(100, innerHeight - 78) };
  const colourway = new URLSearchParams(location.search).get("colourway");
  const size = Math.min(1600, Math.ceil(Math.max(room.width, room.height) * devicePixelRatio));
  const box = document.createElement("div");
  box.id = "first-look";
  const fixed = { position: "fixed", left: "0", top: "44px", width: `${room.width}px`, height: `${room.height}px`, pointerEvents: "none" };
  Object.assign(box.style, fixed, { background: "#8a8a8a", zIndex: "1" });
  const img = document.createElement("img");
  img.alt = "";
  img.fetchPriority = "high";
  img.onload = () => performance.mark("first look");
  img.onerror = () => img.remove();
  img.src = `/api/pictures/${of}/cover?quick=true&size=${size}${colourway ? `&colourway=${encodeURIComponent(colourway)}` : ""}`;
  Object.assign(img.style, fixed, { padding: "24px", boxSizing: "border-box", objectFit: "scale-down" });
  box.append(img);
  const early: Early = { id: of, room };
  window.early = early;
  const came = (p: Picture | undefined) => {
    early.picture = p;
    const asked = p && quick && kindOf(p) === "photo" ? askForFirstView(p, room) : undefined;
    if (asked) void exactly(asked, box, img, room).finally(begin);
    else begin();
    return p;
  };
  const brought = document.getElementById("picture")?.textContent;
  early.coming = brought
    ? Promise.resolve(came(JSON.parse(brought) as Picture))
    : fetch(`/api/pictures/${of}`).then((r) => (r.ok ? (r.json() as Promise<Picture>) : undefined)).then(came).catch(() => {
      begin(); // the page says what is wrong
      return undefined;
    });
  new MutationObserver((_, seen) => {
    if (!document.body) return;
    seen.disconnect();
    document.body.append(box);
  }).observe(document.documentElement, { childList: true });
}

/** Draws the stage's first view where the stage will. */
async function exactly({ answer, width, height, at }: Asked, box: HTMLElement, img: HTMLImageElement, room: Early["room"]) {
  const { response, bytes } = await answer;
  if (!response.ok || bytes.byteLength !== 4 * width * height) return;
  const c = document.createElement("canvas");
  c.width = Math.round(room.width * devicePixelRatio);
  c.height = Math.round(room.height * devicePixelRatio);
  Object.assign(c.style, { position: "absolute", width: "100%", height: "100%" });
  c.getContext("2d")?.putImageData(new ImageData(new Uint8ClampedArray(bytes), width, height), at.left, at.top);
  box.replaceChildren(c);
  img.onload = null;
  performance.mark("exact");
}

try {
  if (id) look(id);
} finally {
  if (id && quick) setTimeout(begin, longest);
  else begin();
}
