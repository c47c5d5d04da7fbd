import type { Drawing } from "../api/client";

/** A drawing as elements of a shadow tree, where its own style sheets reach nothing else. */
export interface Mounted {
  svg: SVGSVGElement;
  elements: Element[]; // in document order, as the server counts them
}

const frame = ":host { all: initial; display: block; color: #000; } :host > svg { display: block; width: 100% !important; height: 100% !important; overflow: hidden; position: static !important; }";

/** Puts a drawing into a host. It came made safe from the server; the page's own policy lets no script of it run either. */
export function mount(host: HTMLElement, drawing: Drawing): Mounted | undefined {
  const shadow = host.shadowRoot ?? host.attachShadow({ mode: "open" });
  const parse = (text: string) => new DOMParser().parseFromString(text, "image/svg+xml").documentElement;
  let root = parse(drawing.source);
  // A file that declares no namespace means this one, as the server reads it.
  if (root.namespaceURI === null) root = parse(drawing.source.replace(/<svg\b/, '<svg xmlns="http://www.w3.org/2000/svg"'));
  if (!(root instanceof SVGSVGElement)) return undefined;
  const svg = document.importNode(root, true) as unknown as SVGSVGElement;
  const elements = [svg, ...svg.querySelectorAll("*")];
  const [x = 0, y = 0, w = 100, h = 100] = drawing.size;
  if (!svg.hasAttribute("viewBox")) svg.setAttribute("viewBox", `${x} ${y} ${w} ${h}`);
  for (const s of elements) if (s.localName === "style") s.textContent = (s.textContent ?? "").replaceAll(":root", ":host"); // in a shadow tree the root is its host
  const style = document.createElement("style");
  style.textContent = frame;
  shadow.replaceChildren(style, svg);
  svg.pauseAnimations();
  return { svg, elements };
}

/** What is set on elements: a property and its value. */
export interface Sets {
  prop: string;
  css: string;
  elements: number[];
}

/**
 * Shows colours by setting properties, and takes back those of before that are not wanted any more. The elements of a group
 * refer to a variable of the host, so that a step of a slider sets a few variables and touches no element.
 */
export class Painter {
  private was = new Map<string, { value: string; priority: string; now: string }>();
  private last: Sets[] = [];
  private hidden = false;

  constructor(
    private readonly m: Mounted,
    private readonly host: HTMLElement,
  ) {}

  show(groups: Sets[], hide: Sets[]) {
    const all = [...groups, ...hide];
    groups.forEach((g, i) => this.host.style.setProperty(`--group-${i}`, g.css));
    const same = hide.length === 0 && !this.hidden && groups.length === this.last.length && groups.every((g, i) => g.elements === this.last[i]?.elements && g.prop === this.last[i].prop);
    this.last = groups;
    this.hidden = hide.length > 0;
    if (same) return;
    const want = new Map<string, string>();
    all.forEach((g, i) => { for (const e of g.elements) want.set(`${e} ${g.prop}`, i < groups.length ? `var(--group-${i})` : g.css); });
    for (const [key, old] of this.was) {
      if (want.has(key)) continue;
      const { style, prop } = this.at(key);
      style?.removeProperty(prop);
      if (old.value) style?.setProperty(prop, old.value, old.priority);
      this.was.delete(key);
    }
    for (const [key, css] of want) {
      const { style, prop } = this.at(key);
      if (!style) continue;
      const old = this.was.get(key);
      if (old?.now === css) continue;
      if (!old) this.was.set(key, { value: style.getPropertyValue(prop), priority: style.getPropertyPriority(prop), now: css });
      else old.now = css;
      style.setProperty(prop, css, "important");
    }
  }

  private at(key: string) {
    const [n = "0", prop = ""] = key.split(" ");
    return { style: (this.m.elements[Number(n)] as SVGElement | undefined)?.style, prop };
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

/** What hides items. */
export function hiding(d: Drawing, picked: Iterable<number>): Sets[] {
  const by = new Map<string, Sets>();
  for (const i of picked) {
    const prop = d.items.props[i] ?? "fill";
    const what = prop === "stop-color" ? { prop: "stop-opacity", css: "0" } : { prop, css: prop === "fill" || prop === "stroke" ? "none" : "transparent" };
    const g = by.get(prop) ?? { ...what, elements: [] };
    g.elements.push(d.items.elements[i] ?? 0);
    by.set(prop, g);
  }
  return [...by.values()];
}
