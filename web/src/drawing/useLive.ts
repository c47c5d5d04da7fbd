import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { api, explain, Problem, unwrap, type Document, type FamilyColours, type Part } from "../api/client";
import { bringing } from "../api/draft";
import { keyOf, same } from "../api/identity";
import { useLatest } from "../bench/useLatest";
import { changes, Shares, type Changes } from "./live";

/** From how many things on a drawing takes the browser too long to paint. */
export const many = 3000;

/** What of the picture the stage shows, in its pixels, and in how many of the device. */
export interface Window {
  x: number;
  y: number;
  w: number;
  h: number;
  width: number;
  height: number;
}

interface Layers {
  window: Window;
  /** As the document had it. */
  base: Int32Array; // opaque RGBA
  shape: [id: string, key: string][];
  colours: FamilyColours[];
  shares: Map<string, Shares>; // of parts, by what they have
  before?: ImageData;
}

interface Props {
  on: boolean;
  picture: string;
  document: Document;
  /** The part whose colours a hand is likely to change. */
  part?: string;
  window?: Window;
  before: boolean;
  split: boolean;
  onProblem: (message: string | undefined) => void;
}

/** How many colours of a family are told ahead at most. */
const mostColours = 24;

/** A part without what only changes what its colours become. */
const bare = (p: Part): string => keyOf([p.id, p.family?.members.map((m) => m.colour), p.family?.boards, p.family?.prop]);

/** All parts of a document so, by their ids. */
const shapeOf = (d: Document): Layers["shape"] => d.parts.map((p) => [p.id, bare(p)]);

/** What changes from what was rendered to what is wanted, if the shares that are there can tell. */
function told(l: Layers, shape: Layers["shape"], colours: FamilyColours[]): { shares: Shares; changes: Changes }[] | undefined {
  if (!same(l.shape, shape)) return undefined;
  const out: { shares: Shares; changes: Changes }[] = [];
  for (const [id, key] of shape) {
    const c = changes(l.colours.find((q) => q.id === id), colours.find((q) => q.id === id));
    if (!c) return undefined;
    if (c.size === 0) continue;
    const shares = l.shares.get(key);
    if (!shares || [...c.keys()].some((k) => !shares.has(k))) return undefined;
    out.push({ shares, changes: c });
  }
  return out;
}

/**
 * Shows a drawing that takes the browser long to paint as pixels that the server renders, and follows a hand on it: from the
 * shares of the colours in each pixel, which the server works out at rest, a change of colours is one pass over them.
 */
export function useLive(p: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const beforeCanvas = useRef<HTMLCanvasElement>(null);
  const [layers, setLayers] = useState<Layers>();
  const [failed, setFailed] = useState(false);
  const [tries, setTries] = useState(0);
  const [count, setCount] = useState(0);
  const { on, picture, part, before, split, document, onProblem } = p;
  // A stage that is fitted again shows the same: what is there of it, or comes, is still of it.
  const [w, setWindow] = useState(p.window);
  if (!same(w, p.window)) setWindow(p.window);
  const [colours, setColours] = useState<FamilyColours[]>();
  const asking = useRef<{ want?: Document; done?: Document; busy: boolean; gone?: boolean }>({ busy: false });
  /** Asks what a document makes of the colours: as soon as a hand has moved, before anything else is shown of it. */
  const ahead = useCallback(
    async (d: Document) => {
      const c = asking.current;
      c.want = d;
      if (c.busy) return;
      c.busy = true;
      while (c.want && !(c.done && same(c.want, c.done)) && !c.gone) {
        const now: Document = c.want;
        try {
          setColours(await unwrap(bringing(picture, now, (b) => api.POST("/api/pictures/{picture}/drawing/colours", { params: { path: { picture } }, body: { ...b }, signal: AbortSignal.timeout(30000) }))));
        } catch (e) {
          onProblem(explain(e));
          if (!(e instanceof Problem && e.status < 500)) {
            await new Promise((r) => setTimeout(r, 1500)); // the server is away: the newest wish is tried again until it is back
            continue;
          }
        }
        c.done = now;
      }
      c.busy = false;
    },
    [picture, onProblem],
  );
  useEffect(() => {
    if (on) void ahead(document);
  }, [on, document, ahead]);
  useEffect(() => {
    const c = asking.current;
    c.gone = false;
    return () => { c.gone = true; };
  }, []);
  const here = layers && layers.window === w;
  const shape = useMemo(() => shapeOf(document), [document]);
  const steps = useMemo(() => (layers && colours ? told(layers, shape, colours) : undefined), [layers, shape, colours]);
  const own = document.parts.find((q) => q.id === part);
  const members = useMemo(() => own?.family?.members.map((m) => m.colour).slice(0, mostColours) ?? [], [own]);
  const next = !here || (colours && !steps) ? "view" : own?.family && members.length > 0 && !layers.shares.has(bare(own)) ? "shares" : !layers.before ? "before" : undefined;
  const key = on && w && next ? keyOf([next, w, next === "view" ? document : next === "shares" && own && bare(own), tries]) : undefined;

  const ask = useCallback(
    async (_: string, signal: AbortSignal) => {
      if (!w) return;
      const params = { path: { picture } };
      const view = async (show: "picture" | "before") => {
        const b = await unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/view", { params, body: { ...w, show, ...b }, parseAs: "arrayBuffer", signal })));
        const pix = new Uint8ClampedArray(b);
        for (let i = 0; i < pix.length; i += 4) {
          const a = pix[i + 3] ?? 0;
          if (a === 255) continue;
          for (let c = i; c < i + 3; c++) pix[c] = ((pix[c] ?? 0) * a) / 255 + 255 - a; // on white paper
          pix[i + 3] = 255;
        }
        return pix.buffer;
      };
      try {
        if (next === "view") {
          const [base, of] = await Promise.all([view("picture"), unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/drawing/colours", { params, body: { ...b }, signal })))]);
          setLayers((l) => ({ shares: new Map<string, Shares>(), ...(l?.window === w ? { shares: l.shares, before: l.before } : {}), window: w, base: new Int32Array(base), shape: shapeOf(document), colours: of }));
        } else if (next === "shares" && own) {
          const png = await unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/drawing/shares", { params, body: { part: own.id, colours: members, view: { ...w, show: "picture", ...b } }, parseAs: "blob", signal })));
          const sheet = await createImageBitmap(png as unknown as Blob);
          const c = new OffscreenCanvas(sheet.width, sheet.height).getContext("2d", { willReadFrequently: true });
          c?.drawImage(sheet, 0, 0);
          const data = c?.getImageData(0, 0, sheet.width, sheet.height);
          if (data) setLayers((l) => (l?.window === w ? { ...l, shares: new Map([...l.shares, [bare(own), new Shares(data, members, w.width * w.height)]]) } : l));
        } else if (next === "before") {
          const data = new ImageData(new Uint8ClampedArray(await view("before")), w.width, w.height);
          setLayers((l) => (l?.window === w ? { ...l, before: data } : l));
        }
        if (failed) onProblem(undefined);
        setFailed(false);
      } catch (e) {
        setFailed(true);
        onProblem(explain(e));
        if (!(e instanceof Problem && e.status < 500)) setTimeout(() => setTries((n) => n + 1), 1500);
        throw e;
      }
    },
    [picture, document, w, next, own, members, failed, onProblem],
  );
  useLatest(key, ask, 150);

  const [width, height] = [layers?.window.width ?? 0, layers?.window.height ?? 0];
  const out = useMemo(() => (width * height > 0 ? new ImageData(width, height) : undefined), [width, height]);
  const last = useRef<{ canvas?: HTMLCanvasElement | null; base?: Int32Array; steps?: ReturnType<typeof told> }>({});
  useLayoutEffect(() => {
    const put = (c: HTMLCanvasElement | null, d: ImageData | undefined) => {
      if (!c || !d) return;
      if (c.width !== d.width || c.height !== d.height) [c.width, c.height] = [d.width, d.height];
      c.getContext("2d", { alpha: false })?.putImageData(d, 0, 0);
    };
    if (split) put(beforeCanvas.current, layers?.before);
    if (before) {
      put(canvas.current, layers?.before);
      last.current = {};
      return;
    }
    const { base } = layers ?? {};
    const { current: was } = last;
    // What cannot be told yet leaves what is shown.
    if (!base || !out || !steps || (was.canvas === canvas.current && was.base === base && was.steps === steps)) return;
    const to = new Int32Array(out.data.buffer);
    const again = was.base === base && steps.length === 1 && was.steps?.length === 1 && was.steps[0]?.shares === steps[0]?.shares;
    if (!again) to.set(base);
    steps.forEach((s, n) => s.shares.apply(s.changes, n === 0 ? base : to, to));
    put(canvas.current, out);
    last.current = { canvas: canvas.current, base, steps };
    setCount((n) => n + 1);
  }, [layers, out, steps, before, split, on]);
  const shown = on && !!layers;
  return { ahead, canvas, beforeCanvas, shown, failed, window: layers?.window, ready: shown && !!here && !!steps && !!own && layers.shares.has(bare(own)), count };
}
