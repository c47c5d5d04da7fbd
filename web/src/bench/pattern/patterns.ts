import type { Copy, Document, Part, Pattern, PatternLay, Pick, Swatch, Tile as Taken } from "../../api/client";
import { unplaced } from "../copies/copies";
import { thinned, type Point } from "../isolate/gestures";

export type Tile = PatternLay["tile"];

/** How many colours a tile's figures have at most; one that is drawn has those that it was taken with. */
export const mostColours: Record<Tile, number> = { stripes: 4, dots: 4, checks: 2, zigzag: 4, drawn: 0 };

/** A pattern as it is first laid on: a repeat is a twentieth of the picture. */
export function firstPattern(tile: Tile, width: number, colour: Pattern["colours"][number]): Pattern {
  return { lay: { tile, share: 50, size: Math.max(8, Math.round(width / 20)), offset: [0, 0], folds: 25, strength: 100 }, colours: [colour] };
}

/** The pattern with another tile; colours that the tile has no figures for are let go. */
export const withTile = (p: Pattern, tile: Exclude<Tile, "drawn">): Pattern => {
  const lay = { ...p.lay, tile };
  delete lay.file;
  delete lay.figures;
  delete lay.credit;
  return { lay, colours: p.colours.slice(0, mostColours[tile]) };
};

/** The pattern with a tile that was taken from a picture, in that picture's colours; one of the palette's names it. */
export function withTaken(p: Pattern | undefined, taken: Taken, palette: Swatch[], width: number): Pattern {
  const { lay } = p ?? firstPattern("stripes", width, { css: "#ffffff" });
  const size = p ? lay.size : Math.max(8, Math.round(width / 8)); // what is drawn has more in it than stripes
  return {
    lay: { ...lay, size, tile: "drawn", file: taken.file, figures: taken.colours.length, credit: taken.credit },
    colours: taken.colours.map((css) => {
      const named = palette.find((c) => c.hex?.toLowerCase() === css.toLowerCase());
      return named ? { css: named.css, palette_id: named.id, tolerance: named.tolerance } : { css };
    }),
  };
}

const tidy = (v: number) => Math.round(v * 10) / 10;

/** The pattern moved by a hand on the picture. In perspective the offset is in thousandths of the square of cloth. */
export function movedBy(lay: PatternLay, from: Point, to: Point): PatternLay {
  const [a, b] = lay.corners ?? [];
  const k = a && b ? 1000 / Math.max(1, Math.hypot((b[0] ?? 0) - (a[0] ?? 0), (b[1] ?? 0) - (a[1] ?? 0))) : 1;
  return { ...lay, offset: [tidy((lay.offset[0] ?? 0) + k * (to[0] - from[0])), tidy((lay.offset[1] ?? 0) + k * (to[1] - from[1]))] };
}

/** The middle of what hands have put down to select a part, or nothing where they have put down nothing that has a place. */
export function middleOf(picks: Pick[]): Point | undefined {
  const all = picks
    .filter((p) => p.join === "add" && !p.off)
    .flatMap((p) => [...[...(p.strokes ?? []), ...(p.inside ?? [])].flatMap((s) => s.points), ...(p.nodes ?? []).map((n) => n.p), ...(p.ring ?? []), ...(p.samples ?? []), ...(p.boxes ?? []).flatMap(([a, b, c, d]) => [[a, b], [c, d]])]);
  if (all.length === 0) return undefined;
  return [0, 1].map((k) => {
    let [least, most] = [Infinity, -Infinity]; // one by one: a hand may have put down more than a call takes
    for (const q of all) [least, most] = [Math.min(least, q[k] ?? 0), Math.max(most, q[k] ?? 0)];
    return (least + most) / 2;
  }) as Point;
}

/** The pattern put into perspective, a square of cloth around a place of the picture (its middle, where none is given; of a copy: as that lies there), or taken out of it; its repeats stay as large. */
export function inPerspective(lay: PatternLay, on: boolean, picture: { width: number; height: number }, copy?: Copy, around?: Point): PatternLay {
  const side = 0.5 * Math.min(picture.width, picture.height);
  if (!on) {
    const { corners, ...rest } = lay;
    delete rest.grid;
    delete rest.round;
    delete rest.above;
    const [a, b] = corners ?? [];
    const was = a && b ? Math.hypot((b[0] ?? 0) - (a[0] ?? 0), (b[1] ?? 0) - (a[1] ?? 0)) : side;
    return { ...rest, size: Math.max(2, tidy((lay.size * was) / 1000)), offset: [0, 0] };
  }
  const [x, y] = [picture.width, picture.height].map((all, k) => Math.max(0, Math.min(all - side, (around?.[k] ?? all / 2) - side / 2))) as Point;
  return { ...lay, corners: [[x, y], [x + side, y], [x + side, y + side], [x, y + side]].map((p) => unplaced(copy, p as Point).map(tidy)), size: Math.max(2, tidy((1000 * lay.size * (copy?.scale || 1)) / side)), offset: [0, 0] };
}

/** Where a place of a square of cloth lies, 0 to 1 across and down, whose corners lie there in the picture: their mean, weighted as the perspective has it. */
export function onCloth(corners: Point[], s: number, t: number): Point {
  const q = (i: number): Point => corners[i % 4] ?? [0, 0];
  const area = (a: Point, b: Point, c: Point) => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  const shares = [(1 - s) * (1 - t), s * (1 - t), s * t, (1 - s) * t];
  // A corner weighs as much as the triangle of the other three is large.
  const weights = shares.map((share, i) => share * Math.abs(area(q(i + 1), q(i + 2), q(i + 3))));
  const all = weights.reduce((a, b) => a + b, 0) || 1;
  return [0, 1].map((k) => weights.reduce((sum, w, i) => sum + (w * (q(i)[k] ?? 0)) / all, 0)) as Point;
}

const across = [0, 1, 2, 3];
const isCorner = (i: number, j: number) => i % 3 === 0 && j % 3 === 0;

/** The pattern with a grid over its square, whose nodes lie where the perspective has them, or without one. */
export function withGrid(lay: PatternLay, on: boolean): PatternLay {
  const rest = { ...lay };
  delete rest.grid;
  if (!on || !lay.corners) return rest;
  const corners = lay.corners as Point[];
  return { ...rest, grid: across.flatMap((j) => across.filter((i) => !isCorner(i, j)).map((i) => onCloth(corners, i / 3, j / 3).map(tidy))) };
}

/** What a hand can take of a pattern in perspective: the four corners, or the sixteen nodes of its grid, row by row. */
export function nodesOf(lay: PatternLay): Point[] | undefined {
  if (!lay.corners || !lay.grid) return lay.corners as Point[] | undefined;
  const [a, b, c, d] = lay.corners as Point[];
  const others = [...(lay.grid as Point[])];
  return across.flatMap((j) => across.map((i): Point => (isCorner(i, j) ? [a, b, d, c][(j ? 2 : 0) + (i ? 1 : 0)] : others.shift()) ?? [0, 0]));
}

/** The pattern with these nodes in their places. */
export function withNodes(lay: PatternLay, nodes: Point[]): PatternLay {
  if (!lay.grid) return { ...lay, corners: nodes };
  const corners = [0, 3, 15, 12].map((i) => nodes[i] ?? [0, 0]);
  return { ...lay, corners, grid: nodes.filter((_, i) => !isCorner(i % 4, Math.floor(i / 4))) };
}

/** The pattern pushed by a hand: what lies under the tip goes along. A tip that does not move pushes nothing. */
export function pushedBy(lay: PatternLay, stroke: { radius: number; points: number[][] }): PatternLay {
  const radius = Math.max(2, tidy(stroke.radius));
  const points = thinned(stroke.points as Point[], Math.max(1, radius / 5));
  const end = (stroke.points.at(-1) ?? []).map(Math.round) as Point;
  const last = points.at(-1);
  if (last && (last[0] !== end[0] || last[1] !== end[1])) points.push(end); // it goes as far as the hand does
  return points.length < 2 ? lay : { ...lay, pushes: [...(lay.pushes ?? []), { radius, points }] };
}

/** The document with a part's pattern laid otherwise; its colours stay the picture's own. */
export const relaid = (d: Document, part: string, lay: PatternLay): Document => ({ ...d, parts: d.parts.map((q) => (q.id === part && q.pattern ? { ...q, pattern: { ...q.pattern, lay } } : q)) });

/** Which colour of a pattern was taken out of a list. */
export const takenOut = <T>(before: T[], after: T[]): number => before.findIndex((c, i) => after[i] !== c);

/** The picture's own colours after one was added or taken out where a colourway's were at hand. */
export const follow = <T>(own: T[], before: T[], after: T[]): T[] =>
  after.length < before.length ? own.filter((_, i) => i !== takenOut(before, after)) : [...own, ...after.slice(own.length)];

/** Whether two parts differ in no more than the colours of their patterns. */
export const onlyColours = (a: Part["pattern"], b: Part["pattern"]): boolean => !!a && !!b && JSON.stringify(a.lay) === JSON.stringify(b.lay);
