import { startTransition, useCallback, useEffect, useRef, useState } from "react";
import { api, explain, Problem, unwrap, type Document, type Picture } from "../api/client";

interface Waiting {
  label: string;
  document: Document;
}

/** What waits to be done, in the order of the hands: edits, and undo or redo between them. */
type Step = { kind: "edit"; label: string; document: Document; change: (d: Document) => Document } | { kind: "move"; way: "undo" | "redo"; done: () => void };

export type Saving = "saved" | "saving" | "offline";

const keepKey = (id: string) => `episema.unsaved.${id}`;

/** Edits that could not be sent yet, kept where a reload finds them. */
function kept(id: string): { base: number; waiting: Waiting[] } | undefined {
  try {
    const s = localStorage.getItem(keepKey(id));
    return s ? (JSON.parse(s) as { base: number; waiting: Waiting[] }) : undefined;
  } catch {
    return undefined;
  }
}

function keep(id: string, base: number, waiting: Waiting[]) {
  try {
    if (waiting.length === 0) localStorage.removeItem(keepKey(id));
    else localStorage.setItem(keepKey(id), JSON.stringify({ base, waiting }));
  } catch {
    // Storage that is full or forbidden: the edits stay in memory.
  }
}

/** Edits of pictures that were left, on their way still: who opens one again waits for them. */
const leaving = new Map<string, Promise<void>>();

/** Pictures that were fetched a moment ago, to see what kind they are: they need not be fetched again. */
export const justFetched = new Map<string, Picture>();

/** Whether two values are the same but for the order of their keys and for what is not set. */
function same(a: unknown, b: unknown): boolean {
  const sorted = (_: string, v: unknown) => (v && typeof v === "object" && !Array.isArray(v) ? Object.fromEntries(Object.entries(v).sort(([p], [q]) => (p < q ? -1 : 1))) : v);
  return JSON.stringify(a, sorted) === JSON.stringify(b, sorted);
}

/**
 * The document of a picture: edits show at once, are sent one after the other (each one step of the
 * history), and are kept until the server has them. Undo and redo stand in the same queue: no press is lost, and
 * an edit made before the answer to an undo came goes on top of that answer.
 */
export function useDocument(id: string) {
  const [picture, setPicture] = useState<Picture>();
  const [document, setDocument] = useState<Document>({ parts: [] });
  const [saving, setSaving] = useState<Saving>("saved");
  const [problem, setProblem] = useState<string>();
  const [theirs, setTheirs] = useState<Picture>();
  const s = useRef({ revision: 0, queue: [] as Step[], busy: false, document: { parts: [] } as Document, conflict: false, gone: false, flushing: undefined as Promise<void> | undefined });

  /** Takes what the server has; edits that wait are made again on top of it. */
  const take = useCallback((p: Picture) => {
    const c = s.current;
    c.revision = p.revision;
    let next = p.document;
    for (const q of c.queue) if (q.kind === "edit") next = q.document = q.change(next);
    // What comes back is as a rule what was sent, and shown already: no hand waits for the rest.
    const news = !same(next, c.document);
    c.document = next;
    if (news) setDocument(next);
    startTransition(() => setPicture(p));
  }, []);

  const save = useCallback(() => {
    const c = s.current;
    keep(id, c.revision, c.queue.flatMap((q) => (q.kind === "edit" ? [{ label: q.label, document: q.document }] : [])));
  }, [id]);

  const send = useCallback(async () => {
    const c = s.current;
    const path = { params: { path: { picture: id } } };
    const done = (p: Picture) => {
      const first = c.queue.shift();
      if (first?.kind === "move") first.done();
      take(p);
      save();
      setProblem(undefined);
    };
    try {
      for (let next = c.queue[0]; next; next = c.queue[0]) {
        setSaving("saving");
        try {
          if (next.kind === "move") {
            done(await unwrap(next.way === "undo" ? api.POST("/api/pictures/{picture}/undo", path) : api.POST("/api/pictures/{picture}/redo", path)));
            continue;
          }
          const { data, error, response } = await api.PUT("/api/pictures/{picture}/document", { ...path, body: { base: c.revision, label: next.label, document: next.document } });
          if (response.status === 409) {
            const now = error as Picture;
            if (same(now.document, next.document)) {
              done(now); // it had been stored, only its answer was lost
              continue;
            }
            c.conflict = true;
            setTheirs(now);
            return;
          }
          if (!data && c.gone && response.status >= 500) return;
          if (!data) {
            const e = error as { message?: string; request_id?: string } | undefined;
            throw new Problem(e?.message ?? `the server answered ${response.status}`, e?.request_id ?? "", response.status);
          }
          done(data);
        } catch (e) {
          if (next.kind === "move") {
            // Nothing to undo is no problem; one that may have been done already is not done twice.
            if (!(e instanceof Problem && e.status === 409)) setProblem(explain(e));
            c.queue.shift();
            next.done();
            continue;
          }
          if (e instanceof Problem && e.status < 500) {
            // The server will never take this edit: say why and go back to what it has.
            setProblem(explain(e));
            for (const q of c.queue.splice(0)) if (q.kind === "move") q.done();
            save();
            take(await unwrap(api.GET("/api/pictures/{picture}", path)));
            break;
          }
          if (c.gone) return; // kept in storage, and sent when the picture is opened again
          setSaving("offline");
          await new Promise((r) => setTimeout(r, 1500));
        }
      }
      if (c.queue.length === 0) startTransition(() => setSaving("saved"));
    } finally {
      c.busy = false;
    }
  }, [id, take, save]);

  const flush = useCallback(async () => {
    const c = s.current;
    if (c.busy || c.conflict) return;
    c.busy = true;
    c.flushing = send();
    await c.flushing;
  }, [send]);

  useEffect(() => {
    const c = s.current;
    c.gone = false;
    const stop = new AbortController();
    const load = async () => {
      await leaving.get(id);
      while (!stop.signal.aborted) {
        try {
          const ready = justFetched.get(id);
          justFetched.delete(id);
          const p = ready ?? (await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } }, signal: stop.signal })));
          const k = kept(id);
          if (k && k.waiting.length > 0) {
            c.queue = k.waiting.map((w) => ({ kind: "edit", ...w, change: () => w.document }));
            take(p);
            if (k.base !== p.revision) {
              c.conflict = true;
              setTheirs(p);
            } else void flush();
          } else take(p);
          return;
        } catch (e) {
          if (stop.signal.aborted) return;
          setProblem(explain(e));
          if (e instanceof Problem && e.status < 500) return;
          await new Promise((r) => setTimeout(r, 1500));
        }
      }
    };
    // Hears of edits made in other tabs and by other people.
    const watch = async () => {
      await load();
      while (!stop.signal.aborted) {
        try {
          const after = c.revision;
          const { revision } = await unwrap(api.GET("/api/pictures/{picture}/revision", { params: { path: { picture: id }, query: { after } }, signal: stop.signal }));
          if (revision > c.revision && c.queue.length === 0 && !c.busy) {
            const p = await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } }, signal: stop.signal }));
            if (c.queue.length === 0 && p.revision > c.revision) take(p);
          } else if (revision > after) await new Promise((r) => setTimeout(r, 200));
        } catch (e) {
          if (stop.signal.aborted || (e instanceof Problem && e.status === 404)) return;
          await new Promise((r) => setTimeout(r, 1500));
        }
      }
    };
    void watch();
    return () => {
      c.gone = true;
      stop.abort();
      // What is on its way still goes: an order placed on the next page is of what was seen on this one.
      if (c.queue.length > 0) {
        const sent = (c.flushing ?? Promise.resolve()).then(() => leaving.delete(id));
        leaving.set(id, sent.then(() => undefined));
      }
    };
  }, [id, take, flush]);

  const edit = useCallback(
    (label: string, change: (d: Document) => Document) => {
      const c = s.current;
      const next = change(c.document);
      c.document = next;
      c.queue.push({ kind: "edit", label, document: next, change });
      save();
      setDocument(next);
      setSaving("saving");
      void flush();
    },
    [save, flush],
  );

  /** Undo or redo, once what was done before it is stored. */
  const move = useCallback(
    (way: "undo" | "redo") =>
      new Promise<void>((done) => {
        s.current.queue.push({ kind: "move", way, done });
        setSaving("saving");
        void flush();
      }),
    [flush],
  );

  /** Settles a conflict: mine goes on top of theirs (theirs stays in the history), or theirs is taken. */
  const settle = useCallback(
    (mine: boolean) => {
      const c = s.current;
      if (!theirs) return;
      c.conflict = false;
      c.revision = theirs.revision;
      if (!mine) for (const q of c.queue.splice(0)) if (q.kind === "move") q.done();
      // Mine as I see it, not made again on top of theirs.
      for (const q of c.queue) if (q.kind === "edit") { const { document } = q; q.change = () => document; }
      take(theirs);
      save();
      setTheirs(undefined);
      void flush();
    },
    [theirs, take, save, flush],
  );

  /** Asks for the picture afresh: something about it changed that is not an edit. */
  const refresh = useCallback(async () => take(await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } } }))), [id, take]);

  return { picture, document, saving, problem, theirs, edit, move, settle, refresh, clearProblem: () => setProblem(undefined) };
}
