import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, explain, unwrap } from "./api/client";
import { BenchPage } from "./bench/BenchPage";
import { documentStore } from "./bench/unsentWork";
import { askForFirstView } from "./bench/stage/firstView";
import { line } from "./bench/stage/line";
import { comingEarly, earlyPicture, onEarlyPicture } from "./early";
import { firstLookIsOver } from "./firstLook";
import { kindOf } from "./kind";
import { Waiting } from "./look/Bench";
import { Notice } from "./look/controls";
import { whenShown } from "./look/later";
import { isNotHere, NotHere } from "./look/NotHere";
import * as words from "./words/app";

const DrawingPage = whenShown(() => import("./drawing/DrawingPage").then((m) => m.DrawingPage), <Waiting><Notice>{words.openingTheDrawing}</Notice></Waiting>);

/** Resolves once a picture that was asked for before the scripts came can be drawn at once. */
export const opened = onEarlyPicture((p, room) => {
  if (kindOf(p) === "photo" && !line().slow) askForFirstView(p, room);
  return documentStore(p.id).openWith(p);
});

/** A picture's bench: the one for photos or the one for drawings. */
export function PicturePage({ id }: { id: string }) {
  const kind = useQuery({ queryKey: ["kind", id], staleTime: Infinity, queryFn: async () => {
    const p = (await comingEarly(id)) ?? (await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: id } } })));
    void documentStore(id).openWith(p);
    return kindOf(p);
  }, initialData: () => {
    const p = earlyPicture(id);
    return p && kindOf(p);
  } });
  useEffect(() => firstLookIsOver, []);
  useEffect(() => { if (kind.error) firstLookIsOver(); }, [kind.error]);
  if (isNotHere(kind.error)) return <NotHere what="picture" />;
  if (kind.error) return <Waiting><Notice strong>{explain(kind.error)}</Notice></Waiting>;
  if (!kind.data) return <Waiting><Notice>{words.openingThePicture}</Notice></Waiting>;
  return kind.data === "drawing" ? <DrawingPage key={id} id={id} /> : <BenchPage key={id} id={id} />;
}
