import { useEffect, useState, type RefObject } from "react";
import { api, explain, unwrap, type Document, type Part } from "../api/client";
import { bringing } from "../api/draft";
import type { StageHandle } from "./stage/Stage";
import * as words from "../words/bench";

interface Props {
  picture: string;
  document: Document;
  part?: Part;
  face: string;
  stage: RefObject<StageHandle | null>;
  onProblem: (message: string) => void;
}

/** Walks the whole edge of a part at 100 %, a stage at a time. */
export function useEdgeWalk({ picture, document, part, face, stage, onProblem }: Props) {
  const [walk, setWalk] = useState<{ stops: number[][]; at: number }>();
  useEffect(() => setWalk(undefined), [part?.id, face]);
  const step = async (by: number) => {
    if (!part) return;
    let w = walk;
    if (!w) {
      const s = stage.current?.size() ?? { width: 900, height: 600 };
      try {
        const stops = await unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/edge-walk", { params: { path: { picture } }, body: { part: part.id, w: s.width, h: s.height, ...b } })));
        w = { stops, at: by > 0 ? -1 : 0 };
      } catch (e) {
        onProblem(explain(e));
        return;
      }
    }
    if (w.stops.length === 0) {
      onProblem(words.thisPartHasNoEdgeYet);
      return;
    }
    const at = (w.at + by + w.stops.length) % w.stops.length;
    setWalk({ ...w, at });
    const [x = 0, y = 0] = w.stops[at] ?? [];
    stage.current?.goTo(x, y, 1);
  };
  return { walk, step, end: () => setWalk(undefined) };
}
