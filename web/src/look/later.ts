import { lazy, type ComponentType, type LazyExoticComponent } from "react";

const waiting: (() => Promise<unknown>)[] = [];

/** A component that is not needed for the first picture: it comes when it is first shown, or once the page has nothing else to do. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- as React's own lazy has it
export function later<T extends ComponentType<any>>(get: () => Promise<T>): LazyExoticComponent<T> {
  const load = () => get().then((c) => ({ default: c }));
  waiting.push(load);
  return lazy(load);
}

/** Fetches what is waiting, one after the other. What cannot be had now is fetched when it is shown. */
export async function fetchTheRest() {
  for (const load of waiting.splice(0)) await load().catch(() => undefined);
}
