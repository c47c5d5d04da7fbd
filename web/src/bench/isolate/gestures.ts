import type { Pick, Stroke } from "../../api/client";
import type { Join, Kind } from "./kinds";

export type Point = [number, number];

/** What a hand did on the stage, in pixels of the picture. done is false while it is still moving. */
export type Gesture =
  | { kind: "stroke"; stroke: Stroke; alt: boolean; done: boolean }
  | { kind: "click"; at: Point; shift: boolean; alt: boolean; done: boolean }
  | { kind: "box"; from: Point; to: Point; shift: boolean; done: boolean };

/** How the next pick is made. */
export interface Options {
  join: Join;
  size: number;
  softness: number;
  strength: number;
  flow: number;
  limit: boolean;
  /** Steps from the best supported answer of Sweep: below 0 tighter, above 0 wider. */
  reach: number;
  tolerance: number;
  light: number;
  connected: boolean;
  snap: boolean;
  /** An outline is drawn in one go, not node by node. */
  byHand: boolean;
}

export const defaults: Options = { join: "add", size: 36, softness: 15, strength: 100, flow: 100, limit: false, reach: 0, tolerance: 12, light: 0, connected: false, snap: true, byHand: false };

export interface Made {
  picks: Pick[];
  at: number;
}

/** How many answers Subject has, at most; where there are fewer, the last stands for the others. */
export const subjects = 3;

/** How many answers of Sweep there are on each side of the one that is given first, at most. */
export const reachSteps = 4;

const replaced = (picks: Pick[], at: number, next: Pick): Made => ({ picks: picks.map((q, i) => (i === at ? next : q)), at });
const added = (picks: Pick[], next: Pick): Made => ({ picks: [...picks, next], at: picks.length });

/** The pick that a gesture goes into: the opened one, or else the last, where it is of the kind. */
export function current(picks: Pick[], opened: number | undefined, kind: Kind): number | undefined {
  for (const i of [opened, picks.length - 1]) {
    const p = i === undefined ? undefined : picks[i];
    if (i !== undefined && p && p.kind === kind && !p.off) return i;
  }
  return undefined;
}

/** The sweeps that are solved together with the one at a place: first and last. */
export function together(picks: Pick[], at: number): [number, number] {
  const goesOn = (i: number) => picks[i]?.kind === "sweep" && picks[i]?.join !== "intersect";
  let first = at;
  while (first > 0 && goesOn(first) && goesOn(first - 1)) first--;
  let last = at;
  while (goesOn(last + 1)) last++;
  return [first, last];
}

/** The reach of the sweeps around a place, in steps. */
export function reachAt(picks: Pick[], at: number): number {
  const [first, last] = together(picks, at);
  const said = picks.slice(first, last + 1).filter((q) => q.reach !== undefined).pop()?.reach;
  return said === undefined ? 0 : Math.round((said - 0.5) * 2 * reachSteps);
}

/** Picks with another reach of the sweeps around a place. */
export function withReach(picks: Pick[], at: number, steps: number): Pick[] {
  const [first, last] = together(picks, at);
  const reach = steps === 0 ? undefined : 0.5 + Math.max(-reachSteps, Math.min(reachSteps, steps)) / (2 * reachSteps);
  return picks.map((q, i) => (i >= first && i <= last ? { ...q, reach } : q));
}

export const strokeJoin = (join: Join, alt: boolean): Join => (alt ? (join === "subtract" ? "add" : "subtract") : join);

/** Picks after a stroke of Sweep or Brush: strokes that join alike go into one pick. */
export function withStroke(picks: Pick[], opened: number | undefined, kind: "sweep" | "brush", o: Options, stroke: Stroke, alt: boolean): Made {
  const join = strokeJoin(o.join, alt);
  const soft: Partial<Pick> = kind === "brush" ? { softness: o.softness / 100, strength: o.strength / 100, ...(o.flow < 100 ? { flow: o.flow / 100 } : {}), ...(o.limit ? { limit: true } : {}) } : {};
  const at = current(picks, opened, kind);
  const into = at === undefined ? undefined : picks[at];
  const alike = into && into.join === join && (kind === "sweep" || (into.softness === soft.softness && into.strength === soft.strength && into.flow === soft.flow && !!into.limit === !!soft.limit));
  const made = at !== undefined && into && alike ? replaced(picks, at, { ...into, strokes: [...(into.strokes ?? []), stroke] }) : added(picks, { kind, join, ...soft, strokes: [stroke] });
  return kind === "sweep" ? { ...made, picks: withReach(made.picks, made.at, o.reach) } : made;
}

/** Picks after a click or a box of Like colours: a plain one starts afresh, Shift adds, Alt says what it is not. */
export function withSample(picks: Pick[], opened: number | undefined, o: Options, g: Extract<Gesture, { kind: "click" | "box" }>): Made | undefined {
  const at = current(picks, opened, "like");
  const into = at === undefined ? undefined : picks[at];
  const alt = g.kind === "click" && g.alt;
  const box: [number, number, number, number] | undefined =
    g.kind === "box" ? [Math.min(g.from[0], g.to[0]), Math.min(g.from[1], g.to[1]), Math.max(g.from[0], g.to[0]), Math.max(g.from[1], g.to[1])] : undefined;
  if (alt) {
    if (at === undefined || !into) return undefined;
    return replaced(picks, at, { ...into, not: [...(into.not ?? []), g.at] });
  }
  if (at !== undefined && into && (g.shift || into.join === o.join)) {
    const keep = g.shift;
    return replaced(picks, at, {
      ...into,
      samples: [...(keep ? (into.samples ?? []) : []), ...(g.kind === "click" ? [g.at] : [])],
      boxes: [...(keep ? (into.boxes ?? []) : []), ...(box ? [box] : [])],
      not: keep ? into.not : undefined,
    });
  }
  return added(picks, { kind: "like", join: o.join, tolerance: o.tolerance, ...(o.light > 0 ? { light: o.light } : {}), ...(o.connected ? { connected: true } : {}), samples: g.kind === "click" ? [g.at] : [], boxes: box ? [box] : [] });
}

/** Picks after a stroke of Marks into a ring: inside, or with Alt or taking away, outside. */
export function withMark(picks: Pick[], opened: number | undefined, o: Options, ring: Point[] | undefined, stroke: Stroke, alt: boolean): Made | undefined {
  const out = alt;
  const at = ring ? undefined : current(picks, opened, "marks");
  const into = at === undefined ? undefined : picks[at];
  if (at !== undefined && into) return replaced(picks, at, out ? { ...into, outside: [...(into.outside ?? []), stroke] } : { ...into, inside: [...(into.inside ?? []), stroke] });
  if (!ring || out) return undefined;
  return added(picks, { kind: "marks", join: o.join, ring, inside: [stroke] });
}

/** Thins a freehand path to points at least a step apart. */
export function thinned(points: Point[], step: number): Point[] {
  const out: Point[] = [];
  for (const p of points) {
    const last = out[out.length - 1];
    if (!last || Math.hypot(p[0] - last[0], p[1] - last[1]) >= step) out.push([Math.round(p[0]), Math.round(p[1])]);
  }
  return out;
}
