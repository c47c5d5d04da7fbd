import { freshName } from "../../colourways";
import type { Part, Recipe } from "../../api/client";

/** What a recipe puts on a part; its selection, own colour and match point stay. */
export const onto = (r: Recipe): Pick<Part, "target" | "settings" | "cast"> => ({ target: r.target, settings: r.settings, cast: r.cast });


/** The recipe of a part under a name that none has yet. Strokes and the place in the palette are the part's alone. */
export function recipeOf(p: Part, name: string, taken: Recipe[]): Recipe {
  const { css, tolerance, neutral } = p.target;
  const rebuild = p.settings.rebuild && { ...p.settings.rebuild, away: undefined };
  return {
    id: crypto.randomUUID(),
    name: freshName(name.trim(), taken.map((r) => r.name)),
    target: { css, ...(tolerance ? { tolerance } : {}), ...(neutral ? { neutral } : {}) },
    settings: { ...p.settings, rebuild },
    ...(p.cast ? { cast: p.cast } : {}),
  };
}

/** A list with those of a file, each with its id and a name of its own. */
export function joined(list: Recipe[], file: Recipe[], ids: string[]): Recipe[] {
  return file.reduce((all, r, i) => [...all, { ...r, id: ids[i], name: freshName(r.name, all.map((q) => q.name)) }], list);
}
