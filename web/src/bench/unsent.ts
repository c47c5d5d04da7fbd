/** Edits of pictures that could not be sent yet, kept where a reload finds them: each tab its own. */
export interface Unsent<Document> {
  base: number;
  waiting: { label: string; document: Document }[];
}

const prefix = "episema.unsaved.";

/** Tells this tab from the others, also after a reload. */
let tab = "";

/** Whose name no other tab has: one that was duplicated takes a new one. What it holds is given back when the tab is closed. */
export const named = (async () => {
  tab = sessionStorage.getItem("episema.tab") ?? "";
  const locks = navigator.locks as LockManager | undefined;
  for (let n = 0; ; n++) {
    if (!tab || n > 0) tab = Math.random().toString(36).slice(2);
    const mine = await new Promise<boolean>((answer) => {
      if (!locks) answer(true);
      else void locks.request(`episema.tab.${tab}`, { ifAvailable: true }, (lock) => { answer(!!lock); return lock ? new Promise<never>(() => undefined) : undefined; });
    });
    if (mine) break;
  }
  sessionStorage.setItem("episema.tab", tab);
})().catch(() => { tab ||= "only"; });

const keyOf = (picture: string, of: string) => `${prefix}${picture}.${of}`;

/** Keeps a picture's unsent edits; says whether the browser took them. */
export function keep<Document>(picture: string, u: Unsent<Document>): boolean {
  try {
    if (u.waiting.length === 0) localStorage.removeItem(keyOf(picture, tab));
    else localStorage.setItem(keyOf(picture, tab), JSON.stringify(u));
    return true;
  } catch {
    return u.waiting.length === 0; // full, or forbidden: they are in memory alone
  }
}

/** This tab's unsent edits of a picture; where it has none, those of a tab that is closed. */
export async function kept<Document>(picture: string): Promise<Unsent<Document> | undefined> {
  await named;
  try {
    const own = localStorage.getItem(keyOf(picture, tab));
    if (own) return JSON.parse(own) as Unsent<Document>;
    const open = new Set((await (navigator.locks as LockManager | undefined)?.query())?.held?.map((l) => l.name));
    for (const key of Object.keys(localStorage)) {
      if (!key.startsWith(`${prefix}${picture}`)) continue;
      const of = key.slice(keyOf(picture, "").length);
      if (of && open.has(`episema.tab.${of}`)) continue; // it is at work on them
      const left = localStorage.getItem(key);
      localStorage.removeItem(key);
      if (!left) continue;
      localStorage.setItem(keyOf(picture, tab), left);
      return JSON.parse(left) as Unsent<Document>;
    }
  } catch {
    // Storage that is forbidden holds nothing.
  }
  return undefined;
}
