import type { Document, Part } from "../api/client";
import { freshName } from "../colourways";
import * as words from "../words/bench";

/** A part that nobody has named yet. */
export const newPart = (name: string): Part => ({ id: crypto.randomUUID(), name, unnamed: true, picks: [], target: {}, settings: { shade_depth: 0, highlights: 100, strength: 100, only_own: 50 } });

/** The name of the next part. */
export const nextName = (d: Document): string => freshName(words.partNumber(d.parts.length + 1), d.parts.map((p) => p.name));

/** The document without a part: what reused it does so no more, what lay inside it lies in what it lay in. */
export function withoutPart(d: Document, id: string): Document {
  const gone = d.parts.find((q) => q.id === id);
  const copy = d.parts.find((q) => q.copy?.of === id);
  if (copy) return withoutPart(withoutPart(d, copy.id), id); // its copies go with it
  return {
    ...d,
    mends: d.mends?.filter((m) => m.kind !== "edge" || m.part !== id),
    parts: d.parts
      .filter((q) => q.id !== id)
      .map((q) => ({ ...q, picks: q.picks.filter((k) => k.kind !== "part" || k.part !== id), within: q.within === id ? gone?.within : q.within })),
  };
}

/** A part of what the parts inside another leave of it. */
export function restOf(d: Document, p: Part): Part {
  const inside = d.parts.filter((q) => q.within === p.id);
  return {
    ...newPart(words.restOfName(p.name)),
    within: p.id,
    picks: [{ kind: "part", join: "add", part: p.id }, ...inside.map((q) => ({ kind: "part" as const, join: "subtract" as const, part: q.id }))],
  };
}

/** Parts in the order of the list, each with how deep inside others it lies. */
export function nested(parts: Part[]): { part: Part; depth: number }[] {
  const out: { part: Part; depth: number }[] = [];
  const put = (within: string | undefined, depth: number) => {
    for (const p of parts) {
      if ((p.within || undefined) !== within || depth > 20) continue;
      out.push({ part: p, depth });
      put(p.id, depth + 1);
    }
  };
  put(undefined, 0);
  return out;
}
