import type { Colourway, Document, Part, Target } from "./api/client";

/** A document as a colourway has it; the server's core does the same. */
export function inColourway(d: Document, w: Colourway | undefined): Document {
  if (!w) return d;
  return {
    ...d,
    parts: d.parts.map((p) => {
      const cell = w.cells[p.name.trim()];
      return cell ? { ...p, target: cell.target, settings: cell.settings ?? p.settings } : p;
    }),
  };
}

/** The colourway with a part's cell set; without one the part is as its picture has it. */
export function withCell(w: Colourway, part: string, cell: { target: Target; settings?: Part["settings"] } | undefined): Colourway {
  const name = part.trim();
  const others = Object.fromEntries(Object.entries(w.cells).filter(([k]) => k !== name));
  return { ...w, cells: cell ? { ...others, [name]: cell } : others };
}

/** A name that no other has yet. */
export function freshName(base: string, taken: string[]): string {
  let n = base;
  for (let k = 2; taken.includes(n); k++) n = `${base} ${k}`;
  return n;
}
