import type { Drawing, ShownDrawing } from "../api/client";

/** A drawing as elements of a shadow tree, where its own style sheets reach nothing else. */
export interface Mounted {
  svg: SVGSVGElement;
  elements: Element[]; // in document order, as the server counts them
}

const frame = ":host { all: initial; display: block; color: #000; } :host > svg { display: block; width: 100% !important; height: 100% !important; overflow: hidden; position: static !important; }";

/** Puts a drawing into a host. It came made safe from the server; the page's own policy lets no script of it run either. */
export function mount(host: HTMLElement, drawing: Drawing): Mounted | undefined {
  const shadow = host.shadowRoot ?? host.attachShadow({ mode: "open" });
  const parsed = new DOMParser().parseFromString(drawing.source, "image/svg+xml");
  const root = parsed.documentElement;
  if (root.localName !== "svg") return undefined;
  const svg = document.importNode(root, true) as unknown as SVGSVGElement;
  const elements = [svg, ...svg.querySelectorAll("*")];
  const [x = 0, y = 0, w = 100, h = 100] = drawing.size;
  if (!svg.hasAttribute("viewBox")) svg.setAttribute("viewBox", `${x} ${y} ${w} ${h}`);
  for (const s of elements) if (s.localName === "style") s.textContent = (s.textContent ?? "").replaceAll(":root", ":host"); // in a shadow tree the root is its host
  const style = document.createElement("style");
  style.textContent = frame;
  shadow.replaceChildren(style, svg as unknown as Node);
  svg.pauseAnimations();
  return { svg, elements };
}

/** Shows colours by setting properties, and takes back those of before that are not wanted any more. */
export class Painter {
  private was = new Map<string, { element: SVGElement; prop: string; value: string; priority: string; now: string }>();

  constructor(private readonly m: Mounted) {}

  show(sets: { elements: number[]; props: string[]; colours: string[] }) {
    const want = new Map<string, string>();
    sets.elements.forEach((e, i) => want.set(`${e} ${sets.props[i] ?? ""}`, sets.colours[i] ?? ""));
    for (const [key, old] of this.was) {
      if (want.has(key)) continue;
      old.element.style.removeProperty(old.prop);
      if (old.value) old.element.style.setProperty(old.prop, old.value, old.priority);
      this.was.delete(key);
    }
    for (const [key, css] of want) {
      const [at = "0", prop = ""] = key.split(" ");
      const element = this.m.elements[Number(at)] as SVGElement | undefined;
      if (!element) continue;
      const old = this.was.get(key);
      if (old?.now === css) continue;
      if (!old) this.was.set(key, { element, prop, value: element.style.getPropertyValue(prop), priority: element.style.getPropertyPriority(prop), now: css });
      else old.now = css;
      element.style.setProperty(prop, css, "important");
    }
  }
}

/** The items of each element: what was clicked on is found by it. */
export function itemsOf(d: Drawing): Map<number, number[]> {
  const out = new Map<number, number[]>();
  d.items.elements.forEach((e, i) => out.set(e, [...(out.get(e) ?? []), i]));
  return out;
}

/** The item under a place of the window: the stroke where it is on one, else the fill; of a gradient its first stop. */
export function itemAt(m: Mounted, d: Drawing, items: Map<number, number[]>, x: number, y: number): number | undefined {
  const root = m.svg.getRootNode() as ShadowRoot;
  for (const el of root.elementsFromPoint(x, y)) {
    for (let at: Element | null = el; at; at = at.parentElement) {
      const n = m.elements.indexOf(at);
      const list = n < 0 ? undefined : items.get(n);
      if (!list) {
        const server = n < 0 ? null : /url\(["']?#([^"')]+)/.exec(getComputedStyle(at).fill);
        if (server?.[1] && at === el) {
          const stop = root.getElementById(server[1])?.querySelector("stop");
          const s = stop ? items.get(m.elements.indexOf(stop)) : undefined;
          if (s?.[0] !== undefined) return s[0];
        }
        continue;
      }
      const stroke = list.find((i) => d.items.props[i] === "stroke");
      const fill = list.find((i) => d.items.props[i] === "fill");
      if (stroke !== undefined && at instanceof SVGGeometryElement) {
        const to = at.getScreenCTM()?.inverse();
        if (to && at.isPointInStroke(new DOMPoint(x, y).matrixTransform(to))) return stroke;
      }
      return fill ?? stroke ?? list[0];
    }
  }
  return undefined;
}

/** The properties that hide items. */
export function hiding(d: Drawing, picked: Iterable<number>): { elements: number[]; props: string[]; colours: string[] } {
  const o = { elements: [] as number[], props: [] as string[], colours: [] as string[] };
  for (const i of picked) {
    const prop = d.items.props[i] ?? "fill";
    o.elements.push(d.items.elements[i] ?? 0);
    o.props.push(prop === "stop-color" ? "stop-opacity" : prop);
    o.colours.push(prop === "stop-color" ? "0" : prop === "fill" || prop === "stroke" ? "none" : "transparent");
  }
  return o;
}

export function joined(a: ShownDrawing | undefined, b: { elements: number[]; props: string[]; colours: string[] }) {
  return { elements: [...(a?.elements ?? []), ...b.elements], props: [...(a?.props ?? []), ...b.props], colours: [...(a?.colours ?? []), ...b.colours] };
}
