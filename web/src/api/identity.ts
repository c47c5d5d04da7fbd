/** An object that is no list. */
export const isBag = (v: unknown): v is Record<string, unknown> => typeof v === "object" && v !== null && !Array.isArray(v);

/** How many different values are remembered by what they hold. */
const mostKnown = 200000;

let last = 0;
const ofObject = new WeakMap<object, string>();
let ofContent = new Map<string, string>();

/**
 * A short text that two values share when they hold the same: the order of keys and what is undefined do not count. What was looked
 * at once is not looked at again, so that a large value of which little is new costs little. Values are not written into.
 */
export function keyOf(v: unknown): string {
  if (typeof v !== "object" || v === null) return v === undefined ? "u" : String(JSON.stringify(v));
  const known = ofObject.get(v);
  if (known) return known;
  const content = Array.isArray(v)
    ? `[${v.map(keyOf).join()}]`
    : `{${Object.keys(v).filter((k) => (v as Record<string, unknown>)[k] !== undefined).sort().map((k) => `${JSON.stringify(k)}:${keyOf((v as Record<string, unknown>)[k])}`).join()}}`;
  let key = ofContent.get(content);
  if (!key) {
    if (ofContent.size >= mostKnown) ofContent = new Map();
    key = `#${(++last).toString(36)}`;
    ofContent.set(content, key);
  }
  ofObject.set(v, key);
  return key;
}

/** Whether two values hold the same. */
export const same = (a: unknown, b: unknown) => a === b || keyOf(a) === keyOf(b);
