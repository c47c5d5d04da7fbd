import type { Colourway, Document, Part } from "../api/client";
import { same } from "../api/identity";
import { rowOf, withCell } from "../colourways";
import { follow, onlyColours, takenOut } from "./pattern/patterns";

/** What a change of a part comes to: of the part in its picture, of the job's colourways, or of both. */
export interface Change {
  part?: Partial<Part>;
  ways?: (ways: Colourway[]) => Colourway[];
}

/**
 * Tells what a change of a part is a change of. A target or a method chosen in a colourway is the colourway's, and so are the colours of its
 * pattern; everything else is the picture's. stored is the document as it stands, at the part as it is shown in the colourway.
 */
export function changeOf(what: Partial<Part>, stored: Document, at: Part | undefined, ways: Colourway[], colourway: Colourway | undefined): Change {
  if (!at) return { part: what };
  const row = rowOf(at);
  const own = stored.parts.find((p) => p.id === at.id);
  const sets: ((w: Colourway) => Colourway)[] = [];
  const here = (set: (w: Colourway) => Colourway) => sets.push((w) => (w.id === colourway?.id ? set(w) : w));
  const done = (part?: Partial<Part>): Change => ({
    ...(part && Object.keys(part).length > 0 ? { part } : {}),
    ...(sets.length > 0 ? { ways: (list) => list.map((w) => sets.reduce((v, set) => set(v), w)) } : {}),
  });

  let rest = what;
  if (colourway && ("target" in what || "settings" in what)) {
    const { target, settings, ...others } = what;
    const next = settings ?? colourway.cells[row]?.settings;
    here((w) => withCell(w, row, { target: target ?? at.target, settings: next && !same(next, own?.settings) ? next : undefined }));
    rest = others;
  }
  if (!rest.pattern) return done(rest);
  const { colours, lay } = rest.pattern;
  const had = at.pattern?.colours;
  if (had && colours.length < had.length && ways.some((w) => w.cells[row]?.pattern)) {
    // Every colourway lets go of its colour in that place.
    const gone = takenOut(had, colours);
    sets.push((w) => {
      const cell = w.cells[row];
      return cell?.pattern ? withCell(w, row, { ...cell, pattern: cell.pattern.filter((_, i) => i !== gone) }) : w;
    });
  }
  if (!colourway) return done(rest);
  if (onlyColours(at.pattern, rest.pattern) && own?.pattern?.colours.length === colours.length) {
    here((w) => withCell(w, row, { target: at.target, settings: w.cells[row]?.settings, pattern: colours }));
    return done();
  }
  return done({ ...rest, pattern: { lay, colours: follow(own?.pattern?.colours ?? [], had ?? [], colours) } });
}

/** The colourways that somebody who flips through them comes to next: the two after the one at hand, and the one before; undefined is the picture as it is set. */
export function beside(ways: Colourway[], at: Colourway | undefined): (Colourway | undefined)[] {
  const all = [undefined, ...ways];
  const n = all.indexOf(at);
  const next = new Set([n + 1, n + 2, n - 1].map((k) => (k + all.length) % all.length));
  next.delete(n);
  return [...next].map((k) => all[k]);
}
