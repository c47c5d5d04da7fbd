import { changesOf } from "./changes";
import type { Change, Document } from "./client";

/** What the server has of each picture that is open: a document that is shown goes to it as changes of that. */
const stored = new Map<string, { revision: number; document: Document }>();

/** Says which document the server has under a revision. */
export function nowStored(picture: string, revision: number, document: Document) {
  stored.set(picture, { revision, document });
}

export const forget = (picture: string) => stored.delete(picture);

export interface Brought {
  document?: Document;
  draft?: { base: number; changes: Change[] };
}

const made = new WeakMap<Document, { of: object; brought: Brought }>();

/** How a request brings a document: as changes of what the server has, or whole. */
export function brought(picture: string, document: Document): Brought {
  const base = stored.get(picture);
  if (!base) return { document };
  const before = made.get(document);
  if (before?.of === base) return before.brought;
  const changes = changesOf(base.document, document);
  const b: Brought = changes ? { draft: { base: base.revision, changes } } : { document };
  made.set(document, { of: base, brought: b });
  return b;
}

/** Asks with a document; where the server does not have what the changes are of any more, it is sent whole. */
export async function bringing<R extends { response: Response }>(picture: string, document: Document, ask: (b: Brought) => Promise<R>): Promise<R> {
  const b = brought(picture, document);
  const answer = await ask(b);
  if (!b.draft || answer.response.status !== 409) return answer;
  if (stored.get(picture)?.revision === b.draft.base) forget(picture);
  return ask({ document });
}
