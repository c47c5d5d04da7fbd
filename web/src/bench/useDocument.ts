import { startTransition, useCallback, useEffect, useRef, useState } from "react";
import { api, explain, Problem, unwrap, type Document, type Picture } from "../api/client";
import { watchRevisions } from "../api/watcher";
import { keep, kept } from "./unsent";

/** What waits to be done, in the order of the hands: edits, and undo or redo between them. */
type Step = { kind: "edit"; label: string; document: Document; change: (d: Document) => Document } | { kind: "move"; way: "undo" | "redo"; done: () => void };

export type Saving = "saved" | "saving" | "offline";

/** Edits of pictures that were left, on their way still: who opens one again waits for them. */
const leaving = new Map<string, Promise<void>>();

/** Pictures that were fetched a moment ago, to see what kind they are: they need not be fetched again. */
export const justFetched = new Map<string, Picture>();

/** Letters of a step's label that the server takes: names in it may be long. */
export const mostLabel = 200;

/** How long the answer to an edit is waited for, in milliseconds, before it is sent again: by then the line is gone. */
const answerIn = 20000;

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
  const s = useRef({ revision: 0, queue: [] as Step[], busy: false, document: { parts: [] } as Document, conflict: false, gone: false, heard: 0, safe: true, flushing: undefined as Promise<void> | undefined });

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
    c.safe = keep(id, { base: c.revision, waiting: c.queue.flatMap((q) => (q.kind === "edit" ? [{ label: q.label, document: q.document }] : [])) });
  }, [id]);

  /** Takes what other tabs and other people made, once nothing of one's own is on its way. */
  const catchUp = useCallback(async () => {
    const c = s.current;
    while (c.heard > c.revision && c.queue.length === 0 && !c.busy && !c.gone) {
      try {
        const p = await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } }, signal: AbortSignal.timeout(answerIn) }));
        if (c.queue.length > 0 || c.busy) return; // looked at again once that is stored
        if (p.revision > c.revision) take(p);
        c.heard = Math.min(c.heard, c.revision);
      } catch (e) {
        if (e instanceof Problem && e.status < 500) return;
        await new Promise((r) => setTimeout(r, 1500));
      }
    }
  }, [id, take]);

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
          const { data, error, response } = await api.PUT("/api/pictures/{picture}/document", { ...path, body: { base: c.revision, label: next.label, document: next.document }, signal: AbortSignal.timeout(answerIn) });
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
    await catchUp();
  }, [id, take, save, catchUp]);

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
          const k = await kept<Document>(id);
          if (stop.signal.aborted) return;
          // Of what waits, the server may have some already: only its answer did not arrive before the page went.
          const stored = k ? k.waiting.findLastIndex((w) => same(w.document, p.document)) : -1;
          if (k && stored >= 0) {
            k.base = p.revision;
            k.waiting.splice(0, stored + 1);
            keep(id, k);
          }
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
    let deaf: (() => void) | undefined;
    const watch = async () => {
      await load();
      if (stop.signal.aborted) return;
      deaf = watchRevisions(id, () => c.revision, (revision) => {
        c.heard = Math.max(c.heard, revision);
        void catchUp();
      });
    };
    void watch();
    // Where the browser keeps nothing, work that is not stored is in this page alone.
    const ask = (e: BeforeUnloadEvent) => {
      if (c.queue.length > 0 && !c.safe) e.preventDefault();
    };
    addEventListener("beforeunload", ask);
    return () => {
      c.gone = true;
      stop.abort();
      deaf?.();
      removeEventListener("beforeunload", ask);
      // What is on its way still goes: an order placed on the next page is of what was seen on this one.
      if (c.queue.length > 0) {
        const sent = (c.flushing ?? Promise.resolve()).then(() => leaving.delete(id));
        leaving.set(id, sent.then(() => undefined));
      }
    };
  }, [id, take, flush, catchUp]);

  const edit = useCallback(
    (label: string, change: (d: Document) => Document) => {
      const c = s.current;
      const next = change(c.document);
      c.document = next;
      c.queue.push({ kind: "edit", label: label.slice(0, mostLabel), document: next, change });
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
