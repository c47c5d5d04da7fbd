import type { Answer } from "./api/bytes";
import type { Picture } from "./api/client";

/** A view that was asked for before there was a stage. */
export interface EarlyView {
  body: object;
  answer: Promise<Answer>;
  leave: AbortController;
}

/** What the page itself asked for before the scripts came (first/page.ts). */
export interface Early {
  id: string;
  /** What a wide window has for the stage, in CSS pixels. */
  room: { width: number; height: number };
  /** Its picture, until somebody has taken it. */
  coming?: Promise<Picture | undefined>;
  /** Once it has come. */
  picture?: Picture;
  /** The stage's first view, where it was asked for and nobody has taken it. */
  view?: EarlyView;
}

declare global {
  interface Window {
    early?: Early;
  }
}

const of = (id: string) => (window.early?.id === id ? window.early : undefined);

/** Takes the picture, if it has come by now. */
export function earlyPicture(id: string): Picture | undefined {
  const picture = of(id)?.picture;
  if (picture) taken(id);
  return picture;
}

/** Takes it once it has come; undefined where there is none, or it could not be had. */
export async function comingEarly(id: string): Promise<Picture | undefined> {
  const picture = await of(id)?.coming;
  taken(id);
  return picture;
}

function taken(id: string) {
  const e = of(id);
  if (e) e.coming = e.picture = undefined;
}

/** Calls f with it, and with the room for it, as soon as it is there; what f returns is to be waited for where it is there already. */
export async function onEarlyPicture(f: (p: Picture, room: Early["room"]) => Promise<void>): Promise<void> {
  const e = window.early;
  if (e?.picture) await f(e.picture, e.room);
  else void e?.coming?.then((p) => p && f(p, e.room));
}
