import type { Picture } from "./api/client";

/** A picture that its page asked for before the scripts came (first-look.js). */
interface Early {
  id: string;
  /** What a wide window has for the stage, in CSS pixels. */
  room: { width: number; height: number };
  coming: Promise<Picture | undefined>;
  /** Once it has come. */
  picture?: Picture;
}

declare global {
  interface Window {
    early?: Early;
  }
}

/** Returns the picture that was asked for before the scripts came, if it is there by now: once. */
export function earlyPicture(id: string): Picture | undefined {
  const e = window.early?.id === id ? window.early : undefined;
  if (e?.picture) window.early = undefined;
  return e?.picture;
}

/** The same, waited for; undefined where there is none, or it could not be had. */
export async function comingEarly(id: string): Promise<Picture | undefined> {
  const e = window.early?.id === id ? window.early : undefined;
  const picture = await e?.coming;
  if (e && window.early === e) window.early = undefined;
  return picture;
}

/** Calls f with it, and with the room for it, as soon as it is there; what f returns is to be waited for where it is there already. */
export async function onEarlyPicture(f: (p: Picture, room: Early["room"]) => Promise<void>): Promise<void> {
  const e = window.early;
  if (e?.picture) await f(e.picture, e.room);
  else void e?.coming.then((p) => p && f(p, e.room));
}
