import type { Cell, Colourway, Document, Part, Pattern, Swatch, Target } from "./api/client";

/** The key of a part's cells: parts of one name are one row of a job, once somebody named them; before, each is its own. */
export const rowOf = (p: Pick<Part, "id" | "name" | "unnamed">): string => (p.unnamed ? `#${p.id}` : p.name.trim());

/** Whether a part, by its id and name, is in a row. */
export const isIn = (row: { key: string }, p: { id: string; name: string }): boolean => row.key === `#${p.id}` || row.key === p.name.trim();

/** The colourways with a part's cells in the row it goes to: what it became in each goes with it, where that row has none yet. */
export function movedCells(ways: Colourway[], from: string, to: string): Colourway[] {
  return ways.map((w) => {
    const cell = w.cells[from];
    return cell && !w.cells[to] ? { ...w, cells: { ...w.cells, [to]: cell } } : w;
  });
}

/** A pattern in the colours that a colourway has for it, as far as it has some. */
const inColours = (p: Pattern, colours: Target[] | undefined): Pattern => (colours?.length ? { ...p, colours: p.colours.map((c, i) => colours[i] ?? c) } : p);

/** A document as a colourway has it; the server's core does the same. */
export function inColourway(d: Document, w: Colourway | undefined): Document {
  if (!w) return d;
  return {
    ...d,
    parts: d.parts.map((p) => {
      const cell = w.cells[rowOf(p)];
      return cell ? { ...p, target: cell.target, settings: cell.settings ?? p.settings, ...(p.pattern ? { pattern: inColours(p.pattern, cell.pattern) } : {}) } : p;
    }),
  };
}

/** A target that names a colour of the palette, as the palette has it now. */
function read(t: Target, palette: Swatch[]): Target {
  const s = t.css && t.palette_id ? palette.find((c) => c.id === t.palette_id) : undefined;
  return s && (s.css !== t.css || s.tolerance !== t.tolerance) ? { ...t, css: s.css, tolerance: s.tolerance } : t;
}

/** A document with the palette's colours as they stand, as the server's core has it: what somebody else makes of them is seen. What is so already stays the same object. */
export function inPalette(d: Document, palette: Swatch[] | undefined): Document {
  if (!palette) return d;
  const parts = d.parts.map((p) => {
    const target = read(p.target, palette);
    const colours = p.pattern?.colours.map((c) => read(c, palette));
    const pattern = p.pattern && colours?.some((c, i) => c !== p.pattern?.colours[i]) ? { ...p.pattern, colours } : p.pattern;
    return target === p.target && pattern === p.pattern ? p : { ...p, target, pattern };
  });
  return parts.some((p, i) => p !== d.parts[i]) ? { ...d, parts } : d;
}

/** The colourway with a row's cell set, its pattern's colours kept where the cell has none; without one the part is as its picture has it. */
export function withCell(w: Colourway, row: string, cell: Cell | undefined): Colourway {
  const kept = w.cells[row]?.pattern;
  const others = Object.fromEntries(Object.entries(w.cells).filter(([k]) => k !== row));
  return { ...w, cells: cell ? { ...others, [row]: { ...(kept ? { pattern: kept } : {}), ...cell } } : others };
}

/** A name that no other has yet. */
export function freshName(base: string, taken: string[]): string {
  let n = base;
  for (let k = 2; taken.includes(n); k++) n = `${base} ${k}`;
  return n;
}
