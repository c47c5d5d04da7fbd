import { startTransition, useEffect, useMemo, useState } from "react";
import { documentStore } from "./unsentWork";

/** The document of a picture, as its store shows it. */
export function useDocument(id: string) {
  const store = useMemo(() => documentStore(id), [id]);
  const [document, setDocument] = useState(store.shown.document);
  const [picture, setPicture] = useState(store.shown.picture);
  const [saving, setSaving] = useState(store.shown.saving);
  const [problem, setProblem] = useState(store.shown.problem);
  const [theirs, setTheirs] = useState(store.shown.theirs);
  useEffect(() => {
    const follow = () => {
      const s = store.shown;
      setDocument(s.document);
      setProblem(s.problem);
      setTheirs(s.theirs);
      if (s.saving !== "saved") setSaving(s.saving);
      // No hand waits for what the bar says.
      startTransition(() => {
        setPicture(s.picture);
        setSaving(s.saving);
      });
    };
    const leave = store.subscribe(follow);
    follow();
    return leave;
  }, [store]);
  const does = useMemo(() => ({
    edit: store.edit.bind(store),
    move: store.move.bind(store),
    settle: store.settle.bind(store),
    refresh: store.refresh.bind(store),
    clearProblem: store.clearProblem.bind(store),
  }), [store]);
  return { picture, document, saving, problem, theirs, ...does };
}
