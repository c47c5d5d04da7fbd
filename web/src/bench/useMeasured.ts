import { useCallback } from "react";
import { api, unwrap, type Areas, type Close, type Document, type Part, type Proof } from "../api/client";
import { bringing } from "../api/draft";
import { keyOf } from "../api/identity";
import { stageRests } from "../stage/quiet";
import { useLatest, useLatestOf } from "./useLatest";

interface Props {
  picture: string;
  /** Of the picture; undefined until it is there and its first frame has come. */
  revision?: number;
  document: Document;
  /** What besides the document decides what is measured. */
  made: string;
  part?: Part;
  /** Which of the column's faces is shown. */
  face: string;
  /** Something is shown that is not stored yet: a hand may be moving. */
  draft: boolean;
}

/** What the server says of a picture as it is shown: each asked for once what it follows from rests. */
export function useMeasured({ picture, revision, document, made, part, face, draft }: Props) {
  const shown = revision === undefined ? undefined : keyOf([document, made]);
  const { answer: proof, of } = useLatestOf<Proof>(
    shown,
    useCallback((_, signal) => unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/proof", { params: { path: { picture } }, body: { ...b }, signal }))), [picture, document]),
    0,
    stageRests,
  );
  // Separate areas are looked for once a mask has rested: over the whole picture that takes a moment.
  const areas = useLatest<Areas>(
    face === "isolate" && part && part.picks.length > 0 && !draft ? keyOf([part.id, made, document.parts.map((q) => [q.picks, q.edge])]) : undefined,
    useCallback((_, signal) => unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/areas", { params: { path: { picture } }, body: { part: part?.id ?? "", ...b }, signal }))), [picture, part?.id, document]),
    500,
  );
  const close = useLatest<Close>(
    face === "proof" && part?.target.css && !draft ? keyOf([part.id, made, document]) : undefined,
    useCallback((_, signal) => unwrap(bringing(picture, document, (b) => api.POST("/api/pictures/{picture}/closely", { params: { path: { picture } }, body: { part: part?.id ?? "", ...b }, signal }))), [picture, part?.id, document]),
    300,
  );
  return { proof, measuring: of !== shown, of: proof?.parts.find((p) => p.id === part?.id), areas, close };
}
