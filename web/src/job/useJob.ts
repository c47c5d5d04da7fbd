import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { api, explain, problemOf, untilAnswered, unwrap, type Colourway, type Job, type Swatch } from "../api/client";
import { mostLabel } from "../bench/documentStore";
import { stillUnsent } from "../bench/unsentWork";

export interface Content {
  palette: Swatch[];
  colourways: Colourway[];
  inks?: Job["inks"];
}

/**
 * A job with its palette and colourways. Edits show at once and are stored one after the other, each a step that can be
 * undone; where somebody else was first, the edit is made again on top of what they made. A change is applied more than
 * once, so it gives the same for the same content.
 */
export function useJob(id: string) {
  const queries = useQueryClient();
  const job = useQuery({ queryKey: ["job", id], enabled: id !== "", queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: id } } })) });
  const stored = useQuery({ queryKey: ["stored-job", id], enabled: false, queryFn: (): Promise<Job> => Promise.reject(new Error("it is only ever set")) });
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(0);
  const waiting = useRef(0);
  const last = useRef(Promise.resolve());

  const put = useCallback((j: Job) => queries.setQueryData(["job", id], j), [queries, id]);
  const chain = useCallback((step: () => Promise<void>) => {
    const count = (by: number) => {
      waiting.current += by;
      stillUnsent(last, waiting.current);
      setBusy(waiting.current);
    };
    count(1);
    last.current = last.current.then(step).catch((e: unknown) => setProblem(explain(e))).finally(() => count(-1));
    return last.current;
  }, []);

  const edit = useCallback(
    (label: string, change: (c: Content) => Content) => {
      const now = queries.getQueryData<Job>(["job", id]);
      if (now) put({ ...now, ...change(now) });
      return chain(async () => {
        for (;;) {
          const from = await untilAnswered(setProblem, () => queries.ensureQueryData({ queryKey: ["stored-job", id], queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: id } } })), staleTime: Infinity, retry: false }));
          const next = change(from);
          const { data, error, response } = await untilAnswered(setProblem, () => api.PUT("/api/jobs/{job}/content", { params: { path: { job: id } }, body: { base: from.revision, label: label.slice(0, mostLabel), palette: next.palette, colourways: next.colourways, inks: next.inks } }));
          if (response.status === 409) {
            queries.setQueryData(["stored-job", id], error as Job);
            continue;
          }
          if (!data) {
            put(from);
            throw problemOf(error, response.status);
          }
          queries.setQueryData(["stored-job", id], data);
          put(data);
          setProblem(undefined);
          return;
        }
      });
    },
    [queries, id, put, chain],
  );

  const move = useCallback(
    (way: "undo" | "redo") =>
      chain(async () => {
        const params = { params: { path: { job: id } } };
        const { data, error, response } = await (way === "undo" ? api.POST("/api/jobs/{job}/undo", params) : api.POST("/api/jobs/{job}/redo", params));
        if (response.status === 409) return; // nothing to undo
        if (!data) throw problemOf(error, response.status);
        queries.setQueryData(["stored-job", id], data);
        put(data);
      }),
    [queries, id, put, chain],
  );

  /** Brings the profile in through which the job's CMYK colours are read. */
  const inks = useCallback(
    (file: File) =>
      chain(async () => {
        const from = await queries.fetchQuery({ queryKey: ["stored-job", id], queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: id } } })) });
        const { data, error, response } = await api.PUT("/api/jobs/{job}/inks", { params: { path: { job: id }, query: { name: file.name.slice(0, mostLabel), base: from.revision } }, body: file as unknown as string, bodySerializer: (b) => b as unknown as File, headers: { "Content-Type": "application/octet-stream" } });
        if (!data) throw response.status === 409 ? new Error("somebody else changed the job meanwhile; bring the profile in again") : problemOf(error, response.status);
        queries.setQueryData(["stored-job", id], data);
        put(data);
      }),
    [queries, id, put, chain],
  );

  /** As the server has it: what it is asked to measure and to render. */
  return { job: job.data, stored: stored.data ?? job.data, error: job.error, problem, clearProblem: () => setProblem(undefined), saving: busy > 0, edit, move, put, inks };
}

export type JobEditing = ReturnType<typeof useJob>;
