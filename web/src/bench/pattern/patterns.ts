import type { Copy, Document, Part, Pattern, PatternLay, Swatch, Tile as Taken } from "../../api/client";
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

/** The pattern put into perspective, a square of cloth in the middle of the picture (of a copy: as that lies there), or taken out of it; its repeats stay as large. */
export function inPerspective(lay: PatternLay, on: boolean, picture: { width: number; height: number }, copy?: Copy): PatternLay {
  const side = 0.5 * Math.min(picture.width, picture.height);
  if (!on) {
    const { corners, ...rest } = lay;
    delete rest.round;
    delete rest.above;
    const [a, b] = corners ?? [];
    const was = a && b ? Math.hypot((b[0] ?? 0) - (a[0] ?? 0), (b[1] ?? 0) - (a[1] ?? 0)) : side;
    return { ...rest, size: Math.max(2, tidy((lay.size * was) / 1000)), offset: [0, 0] };
  }
  const [x, y] = [(picture.width - side) / 2, (picture.height - side) / 2];
  return { ...lay, corners: [[x, y], [x + side, y], [x + side, y + side], [x, y + side]].map((p) => unplaced(copy, p as Point).map(tidy)), size: Math.max(2, tidy((1000 * lay.size * (copy?.scale || 1)) / side)), offset: [0, 0] };
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
