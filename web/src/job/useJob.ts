import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import { api, unwrap, type Job } from "../api/client";
import { watchRevisions } from "../api/watcher";
import { unsentStore } from "../bench/unsentWork";
import { JobStore, worldOfJob } from "./jobStore";

export type { Content } from "./jobStore";

/** A job with its palette and colourways, as its store shows it. */
export function useJob(id: string) {
  const queries = useQueryClient();
  const query = useQuery({ queryKey: ["job", id], enabled: id !== "", queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: id } } })) });
  const store = useMemo(() => unsentStore(`job ${id}`, (changed) => new JobStore(worldOfJob(id), changed, (j: Job) => queries.setQueryData(["job", id], j))), [id, queries]);
  const does = useMemo(() => ({ edit: store.edit.bind(store), move: store.move.bind(store), inks: store.inks.bind(store), clearProblem: store.clearProblem.bind(store), subscribe: store.subscribe.bind(store) }), [store]);
  const shown = useSyncExternalStore(does.subscribe, () => store.shown);
  useEffect(() => {
    if (query.data) store.take(query.data);
  }, [store, query.data]);
  const there = !!query.data;
  useEffect(() => {
    if (!there) return;
    // Hears of what others make of the palette and the colourways.
    const revision = () => store.shown.stored?.revision ?? 0;
    return watchRevisions(id, revision, (newer) => { if (newer > revision()) void queries.invalidateQueries({ queryKey: ["job", id] }); });
  }, [id, there, store, queries]);
  return { job: shown.job ?? query.data, stored: shown.stored ?? query.data, error: query.error, problem: shown.problem, saving: shown.saving, edit: does.edit, move: does.move, inks: does.inks, clearProblem: does.clearProblem };
}

export type JobEditing = ReturnType<typeof useJob>;
