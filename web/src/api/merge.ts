import { isBag, same } from "./identity";

type Item = Record<string, unknown> & { id: unknown };

const isItems = (v: unknown): v is Item[] => Array.isArray(v) && v.every((q) => isBag(q) && q.id !== undefined);

/**
 * Makes of what somebody changed, from before to mine, and of what others made of before meanwhile, one value with both. Items of lists
 * are known by their ids. Where both changed the very same thing it is mine; what either took out is out.
 */
export function merge<T>(before: T, mine: T, theirs: T): T {
  return three(before, mine, theirs) as T;
}

function three(before: unknown, mine: unknown, theirs: unknown): unknown {
  if (same(before, mine)) return theirs;
  if (same(before, theirs) || same(mine, theirs)) return mine;
  if (isItems(mine) && isItems(theirs)) return items(isItems(before) ? before : [], mine, theirs);
  if (!isBag(mine) || !isBag(theirs)) return mine;
  const was = isBag(before) ? before : {};
  return Object.fromEntries([...new Set([...Object.keys(theirs), ...Object.keys(mine)])].flatMap((k) => {
    const v = three(was[k], mine[k], theirs[k]);
    return v === undefined ? [] : [[k, v]];
  }));
}

function items(before: Item[], mine: Item[], theirs: Item[]): Item[] {
  const [b, m, t] = [before, mine, theirs].map((l) => new Map(l.map((q) => [q.id, q]))) as [Map<unknown, Item>, Map<unknown, Item>, Map<unknown, Item>];
  const stays = (id: unknown) => (m.has(id) && t.has(id)) || (!b.has(id) && (m.has(id) || t.has(id)));
  const order = (l: Item[]) => l.map((q) => q.id).filter((id) => b.has(id) && stays(id));
  // The order is theirs, unless mine is another than it was.
  const [lead, rest] = same(order(before), order(mine)) ? [theirs, mine] : [mine, theirs];
  const ids = lead.map((q) => q.id).filter(stays);
  for (const [i, q] of rest.entries()) {
    if (!stays(q.id) || ids.includes(q.id)) continue;
    const after = rest[i - 1]?.id;
    ids.splice(after === undefined ? 0 : ids.indexOf(after) + 1 || ids.length, 0, q.id);
  }
  return ids.map((id) => three(b.get(id), m.get(id) ?? t.get(id), t.get(id) ?? m.get(id)) as Item);
}
