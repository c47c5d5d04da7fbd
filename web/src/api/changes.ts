import type { Change, Document } from "./client";
import { isBag } from "./identity";

/** The most operations that the server takes at once; what needs more is sent whole. */
const mostChanges = 1000;

/** From so many operations within one list on, the list is shorter sent whole. */
const mostInList = 24;

const escaped = (step: string) => step.replaceAll("~", "~0").replaceAll("/", "~1");

/**
 * What makes next of base, as a JSON Patch (RFC 6902) of add, replace and remove; undefined where there is too much of it. What
 * both share by reference is not looked into, so that it costs what was changed and not what there is.
 */
export function changesOf(base: Document, next: Document): Change[] | undefined {
  const out: Change[] = [];
  walk(base, next, "", out);
  return out.length > mostChanges ? undefined : out;
}

function walk(a: unknown, b: unknown, path: string, out: Change[]) {
  if (Object.is(a, b)) return;
  if (Array.isArray(a) && Array.isArray(b)) return list(a, b, path, out);
  if (!isBag(a) || !isBag(b)) {
    out.push({ op: "replace", path, value: b });
    return;
  }
  for (const k of Object.keys(a)) if (a[k] !== undefined && b[k] === undefined) out.push({ op: "remove", path: `${path}/${escaped(k)}` });
  for (const [k, v] of Object.entries(b)) {
    if (v === undefined) continue;
    if (a[k] === undefined) out.push({ op: "add", path: `${path}/${escaped(k)}`, value: v });
    else walk(a[k], v, `${path}/${escaped(k)}`, out);
  }
}

/** Whether two items of lists are one thing, changed perhaps. */
const sameThing = (a: unknown, b: unknown) => Object.is(a, b) || (isBag(a) && isBag(b) && a.id !== undefined && a.id === b.id);

function list(a: unknown[], b: unknown[], path: string, out: Change[]) {
  const mine: Change[] = [];
  let from = 0;
  while (from < a.length && from < b.length && sameThing(a[from], b[from])) from++;
  let back = 0;
  while (back < a.length - from && back < b.length - from && sameThing(a[a.length - 1 - back], b[b.length - 1 - back])) back++;
  const [was, is] = [a.length - from - back, b.length - from - back];
  // What stood in between becomes what stands there now, item by item; the rest of it is taken out or put in.
  const both = Math.min(was, is);
  for (let i = 0; i < from + both; i++) walk(a[i], b[i], `${path}/${i}`, mine);
  for (let i = was - 1; i >= both; i--) mine.push({ op: "remove", path: `${path}/${from + i}` });
  for (let i = both; i < is; i++) mine.push({ op: "add", path: `${path}/${from + i}`, value: b[from + i] });
  for (let i = 0; i < back; i++) walk(a[a.length - back + i], b[b.length - back + i], `${path}/${b.length - back + i}`, mine);
  if (mine.length > mostInList) out.push({ op: "replace", path, value: b });
  else out.push(...mine);
}
