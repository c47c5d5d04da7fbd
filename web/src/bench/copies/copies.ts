import type { Areas, Copy, Document, Part } from "../../api/client";
import { freshName } from "../../colourways";
import type { Point } from "../isolate/gestures";
import { newPart } from "../parts";
import * as words from "../../words/copies";

/** x0, y0, x1, y1 in pixels of the full size. */
export type Box = [number, number, number, number];

/** The box of what a part has, without specks. */
export function boxOf(areas: Areas): Box | undefined {
  const main = areas.list.find((a) => !a.hole);
  if (!main) return undefined;
  const boxes = areas.list.filter((a) => !a.hole && a.pixels * 50 >= main.pixels).map((a) => a.box);
  const edge = (i: number, f: (...v: number[]) => number) => f(...boxes.map((b) => b[i] ?? 0));
  return [edge(0, Math.min), edge(1, Math.min), edge(2, Math.max), edge(3, Math.max)];
}

/** The box of what was cut out of another picture. */
export const cutBox = (c: NonNullable<Copy["cut"]>): Box => [0, 0, c.size[0] ?? 1, c.size[1] ?? 1];

/** What was cut out of another picture as a part of this one: under a name of its own, with a shadow at its foot. */
export function cutPart(d: Document, p: Part): Part {
  const high = (p.copy?.cut?.size[1] ?? 100) * (p.copy?.scale || 1);
  const shadow = { direction: 20, length: 0.3, softness: tidy(Math.max(2, high / 12)), strength: 45 };
  return { ...p, name: freshName(p.name, d.parts.map((q) => q.name)), ...(p.copy ? { copy: { ...p.copy, shadow } } : {}) };
}

const tidy = (v: number) => Math.round(v * 10) / 10;

/** A copy of a part, beside it where there is room, with a shadow at its foot. */
export function copyOf(d: Document, of: Part, box: Box, picture: { width: number; height: number }): Part {
  const [w, h] = [box[2] - box[0], box[3] - box[1]];
  const about: Point = [tidy((box[0] + box[2]) / 2), tidy((box[1] + box[3]) / 2)];
  const by = 1.08 * w;
  const x =
    box[2] + by <= picture.width ? about[0] + by
    : box[0] - by >= 0 ? about[0] - by
    : Math.min(picture.width - w / 4, about[0] + w / 2);
  const at: Point = [Math.round(x), Math.round(about[1])];
  return {
    ...newPart(freshName(words.nameCopy(of.name), d.parts.map((p) => p.name))),
    unnamed: undefined,
    target: of.target,
    settings: of.settings,
    own: of.own,
    pattern: of.pattern,
    copy: { of: of.id, about, at, shadow: { direction: 20, length: 0.3, softness: tidy(Math.max(2, h / 12)), strength: 45 } },
  };
}

const turned = (c: Copy) => {
  const a = ((c.turn ?? 0) * Math.PI) / 180;
  return { sin: Math.sin(a), cos: Math.cos(a), scale: c.scale || 1, flip: c.flip ? -1 : 1 };
};

/** Where a point of the original lies in the copy. */
export function placed(c: Copy, [x, y]: Point): Point {
  const { sin, cos, scale, flip } = turned(c);
  const [dx, dy] = [flip * scale * (x - (c.about[0] ?? 0)), scale * (y - (c.about[1] ?? 0))];
  return [(c.at[0] ?? 0) + cos * dx - sin * dy, (c.at[1] ?? 0) + sin * dx + cos * dy];
}

/** Where a point of the copy lies in the original; what is no copy is its own original. */
export function unplaced(c: Copy | undefined, [x, y]: Point): Point {
  if (!c) return [x, y];
  const { sin, cos, scale, flip } = turned(c);
  const [dx, dy] = [x - (c.at[0] ?? 0), y - (c.at[1] ?? 0)];
  return [(c.about[0] ?? 0) + (flip * (cos * dx + sin * dy)) / scale, (c.about[1] ?? 0) + (cos * dy - sin * dx) / scale];
}

/** A stroke of the copy as one of the original. */
export const unplacedStroke = <S extends { radius: number; points: number[][] }>(c: Copy | undefined, s: S): S => (c ? { ...s, radius: s.radius / (c.scale || 1), points: s.points.map((p) => unplaced(c, p as Point)) } : s);

/** What a hand can take a copy by: the corners of its box, clockwise, and a point above it that turns it. */
export function handsOf(c: Copy, [x0, y0, x1, y1]: Box): { corners: Point[]; turn: Point } {
  const corners = ([[x0, y0], [x1, y0], [x1, y1], [x0, y1]] as Point[]).map((p) => placed(c, p));
  return { corners, turn: placed(c, [(x0 + x1) / 2, y0 - 0.18 * (y1 - y0)]) };
}

/** The copy after a hand took one of its corners, or its turning point, and went to a place. */
export function handled(c: Copy, hand: number | "turn", from: Point, to: Point): Copy {
  const [cx = 0, cy = 0] = c.at;
  const [a, b] = [from, to].map(([x, y]) => ({ far: Math.hypot(x - cx, y - cy), angle: Math.atan2(y - cy, x - cx) })) as [{ far: number; angle: number }, { far: number; angle: number }];
  if (hand === "turn") {
    const turn = (c.turn ?? 0) + ((b.angle - a.angle) * 180) / Math.PI;
    return { ...c, turn: tidy(((((turn + 180) % 360) + 360) % 360) - 180) || undefined };
  }
  const scale = Math.max(0.05, Math.min(10, ((c.scale || 1) * b.far) / Math.max(1, a.far)));
  return { ...c, scale: Math.round(scale * 1000) / 1000 };
}

/** The copy moved as far as a hand went; its middle stays in the picture. */
export function wentTo(c: Copy, from: Point, to: Point, picture: { width: number; height: number }): Copy {
  const within = (v: number, most: number) => Math.round(Math.max(0, Math.min(most, v)));
  return { ...c, at: [within((c.at[0] ?? 0) + to[0] - from[0], picture.width), within((c.at[1] ?? 0) + to[1] - from[1], picture.height)] };
}

/** The document with a part's copy set otherwise. */
export const restood = (d: Document, part: string, copy: Copy): Document => ({ ...d, parts: d.parts.map((q) => (q.id === part && q.copy ? { ...q, copy } : q)) });

/** The document with a part one place further to the back (-1) or to the front (1). */
export function reordered(d: Document, part: string, by: 1 | -1): Document {
  const i = d.parts.findIndex((q) => q.id === part);
  const [a, b] = [d.parts[i], d.parts[i + by]];
  if (!a || !b) return d;
  return { ...d, parts: d.parts.map((q, k) => (k === i ? b : k === i + by ? a : q)) };
}

/** The parts that stand before a copy, nearest first. */
export const before = (parts: Part[], part: string): Part[] => parts.slice(parts.findIndex((q) => q.id === part) + 1).filter((q) => !q.overlap);
