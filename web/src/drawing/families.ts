import type { Document, Part } from "../api/client";
import { newPart } from "../bench/parts";
import { freshName } from "../colourways";
import * as words from "../words/drawing";

/** New families for a drawing: one whose main colour had a target before keeps it, with its name. */
export function regathered(d: Document, fresh: Part[]): Document {
  const names: string[] = [];
  const kept = new Set<string>();
  return {
    ...d,
    parts: fresh.map((q) => {
      const old = d.parts.find((o) => o.family?.main === q.family?.main) ?? d.parts.find((o) => o.target.css && q.family?.members.some((m) => m.colour === o.family?.main));
      const name = freshName(old?.name ?? q.name, names);
      names.push(name);
      if (!old || !q.family) return { ...q, name };
      // It stays the row that it was in the colourways, unless two come of one.
      const id = kept.has(old.id) ? q.id : old.id;
      kept.add(old.id);
      const { how, hue, saturation, lightness } = old.family ?? {};
      return { ...q, id, name, unnamed: old.unnamed, target: old.target, family: { ...q.family, held: old.target.css ? false : q.family.held, how, hue, saturation, lightness } };
    }),
  };
}

/** The document with members moved to another family, or to one of their own where to is not given. */
export function moved(d: Document, colours: string[], to: string | undefined, id: string, scope?: { boards?: string[]; prop?: "fill" | "stroke" }): Document {
  const limited = !!scope && (!!scope.boards?.length || !!scope.prop);
  const taken = d.parts.flatMap((p) => p.family?.members.filter((m) => colours.includes(m.colour)) ?? []);
  const members = colours.map((c) => ({ ...taken.find((m) => m.colour === c), colour: c, held: undefined }));
  let parts = d.parts.map((p) => {
    if (!p.family) return p;
    if (p.id === to) return { ...p, family: { ...p.family, members: [...p.family.members, ...members.filter((m) => !p.family?.members.some((q) => q.colour === m.colour))] } };
    if (limited) return p; // elsewhere the colours stay what they were
    return { ...p, family: { ...p.family, members: p.family.members.filter((m) => !colours.includes(m.colour)) } };
  });
  if (to === undefined) {
    const main = colours[0] ?? "#000000";
    parts = [{ ...newPart(freshName(words.picked, d.parts.map((p) => p.name))), id, unnamed: true, family: { main, members, ...(scope?.boards?.length ? { boards: scope.boards } : {}), ...(scope?.prop ? { prop: scope.prop } : {}) } }, ...parts];
  }
  parts = parts.filter((p) => !p.family || p.family.members.length > 0);
  return { ...d, parts: parts.map((p) => (p.family && !p.family.members.some((m) => m.colour === p.family?.main) ? { ...p, family: { ...p.family, main: p.family.members[0]?.colour ?? p.family.main } } : p)) };
}

/** A part with its family changed. */
export const withFamily = (d: Document, id: string, what: Partial<NonNullable<Part["family"]>>): Document => ({ ...d, parts: d.parts.map((p) => (p.id === id && p.family ? { ...p, family: { ...p.family, ...what } } : p)) });
