import { useCallback, useEffect, useRef, useState } from "react";
import { api, explain, Problem, unwrap, type Document, type Picture } from "../api/client";

interface Waiting {
  label: string;
  document: Document;
}

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

/**
 * The document of a picture: edits show at once, are sent one after the other (each one step of the
 * history), and are kept until the server has them.
 */
export function useDocument(id: string) {
  const [picture, setPicture] = useState<Picture>();
  const [document, setDocument] = useState<Document>({ parts: [] });
  const [saving, setSaving] = useState<Saving>("saved");
  const [problem, setProblem] = useState<string>();
  const [theirs, setTheirs] = useState<Picture>();
  const s = useRef({ revision: 0, waiting: [] as Waiting[], busy: false, document: { parts: [] } as Document, conflict: false, gone: false, moves: Promise.resolve() });

  const take = useCallback((p: Picture) => {
    s.current.revision = p.revision;
    setPicture(p);
    if (s.current.waiting.length === 0) {
      s.current.document = p.document;
      setDocument(p.document);
    }
  }, []);

  const flush = useCallback(async () => {
    const c = s.current;
    if (c.busy || c.conflict) return;
    c.busy = true;
    try {
      for (let next = c.waiting[0]; next && !c.gone; next = c.waiting[0]) {
        setSaving("saving");
        try {
          const { data, error, response } = await api.PUT("/api/pictures/{picture}/document", {
            params: { path: { picture: id } },
            body: { base: c.revision, label: next.label, document: next.document },
          });
          if (response.status === 409) {
            c.conflict = true;
            setTheirs(error as Picture);
            return;
          }
          if (!data) {
            const e = error as { message?: string; request_id?: string } | undefined;
            throw new Problem(e?.message ?? `the server answered ${response.status}`, e?.request_id ?? "", response.status);
          }
          c.waiting.shift();
          keep(id, data.revision, c.waiting);
          take(data);
          setProblem(undefined);
        } catch (e) {
          if (e instanceof Problem && e.status < 500) {
            // The server will never take this edit: say why and go back to what it has.
            setProblem(explain(e));
            c.waiting = [];
            keep(id, c.revision, []);
            take(await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } } })));
            break;
          }
          setSaving("offline");
          await new Promise((r) => setTimeout(r, 1500));
        }
      }
      if (c.waiting.length === 0) setSaving("saved");
    } finally {
      c.busy = false;
    }
  }, [id, take]);

  useEffect(() => {
    const c = s.current;
    c.gone = false;
    const stop = new AbortController();
    const load = async () => {
      while (!stop.signal.aborted) {
        try {
          const p = await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } }, signal: stop.signal }));
          const k = kept(id);
          if (k && k.waiting.length > 0) {
            c.waiting = k.waiting;
            take(p);
            const last = k.waiting[k.waiting.length - 1];
            if (last) {
              c.document = last.document;
              setDocument(last.document);
            }
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
          if (revision > c.revision && c.waiting.length === 0 && !c.busy) {
            const p = await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } }, signal: stop.signal }));
            if (c.waiting.length === 0 && p.revision > c.revision) take(p);
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
    };
  }, [id, take, flush]);

  const edit = useCallback(
    (label: string, change: (d: Document) => Document) => {
      const c = s.current;
      const next = change(c.document);
      c.document = next;
      c.waiting.push({ label, document: next });
      keep(id, c.revision, c.waiting);
      setDocument(next);
      setSaving("saving");
      void flush();
    },
    [id, flush],
  );

  /** Undo and redo wait for what is being stored and for each other: no press is lost. */
  const move = useCallback(
    (way: "undo" | "redo") => {
      const c = s.current;
      const step = async () => {
        while (c.waiting.length > 0 && !c.conflict && !c.gone) {
          await flush();
          if (c.busy) await new Promise((r) => setTimeout(r, 15));
        }
        if (c.waiting.length > 0) return;
        try {
          const params = { params: { path: { picture: id } } };
          take(await unwrap(way === "undo" ? api.POST("/api/pictures/{picture}/undo", params) : api.POST("/api/pictures/{picture}/redo", params)));
        } catch (e) {
          if (!(e instanceof Problem && e.status === 409)) setProblem(explain(e));
        }
      };
      c.moves = c.moves.then(step);
      return c.moves;
    },
    [id, take, flush],
  );

  /** Settles a conflict: mine goes on top of theirs (theirs stays in the history), or theirs is taken. */
  const settle = useCallback(
    (mine: boolean) => {
      const c = s.current;
      if (!theirs) return;
      c.conflict = false;
      c.revision = theirs.revision;
      if (!mine) c.waiting = [];
      keep(id, c.revision, c.waiting);
      take(theirs);
      setTheirs(undefined);
      void flush();
    },
    [id, theirs, take, flush],
  );

  /** Asks for the picture afresh: something about it changed that is not an edit. */
  const refresh = useCallback(async () => take(await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } } }))), [id, take]);

  return { picture, document, saving, problem, theirs, edit, move, settle, refresh, clearProblem: () => setProblem(undefined) };
}
