import { useEffect, useState, type ComponentType, type ReactNode } from "react";

const waiting: (() => Promise<unknown>)[] = [];

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- a component of any props
type Any = ComponentType<any>;

/** A component that comes later; load fetches it, after which it is drawn at once. */
export type Later<T> = T & { load: () => Promise<void> };

/**
 * A component that comes when it is first shown; until then its room is. (React's own lazy with Suspense shows nothing for 300 ms,
 * however soon it comes.) One that cannot be had goes to the page's Mishap, which offers to load the page again.
 */
export function whenShown<T extends Any>(get: () => Promise<T>, room?: ReactNode): Later<T> {
  let here: T | undefined;
  const load = async () => { here ??= await get(); };
  function Shown(props: object) {
    const [Now, setNow] = useState<Any | undefined>(() => here);
    const [failed, setFailed] = useState<Error>();
    useEffect(() => {
      if (!Now) load().then(() => setNow(() => here), (e: unknown) => setFailed(e instanceof Error ? e : new Error(String(e))));
    }, [Now]);
    if (failed) throw failed;
    return Now ? <Now {...props} /> : room;
  }
  return Object.assign(Shown as unknown as T, { load });
}

/** The same for what is not needed for the first picture: it comes at the latest once the page has nothing else to do. */
export function later<T extends Any>(get: () => Promise<T>, room?: ReactNode): Later<T> {
  const c = whenShown(get, room);
  waiting.push(c.load);
  return c;
}

/** Fetches what is waiting, one after the other. What cannot be had now is fetched when it is shown. */
export async function fetchTheRest() {
  for (const load of waiting.splice(0)) await load().catch(() => undefined);
}
