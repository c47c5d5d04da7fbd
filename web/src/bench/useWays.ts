import { useCallback, useEffect, useMemo, useState } from "react";
import type { Colourway, Document, Part, Picture } from "../api/client";
import { inColourway, inPalette } from "../colourways";
import { useJob, type Content } from "../job/useJob";
import { lately } from "../look/goesAhead";
import { stageDrawn } from "../stage/quiet";
import { beforeHands, Following } from "./following";
import { changeOf } from "./ways";
import * as words from "../words/bench";

interface Props {
  document: Document;
  picture?: Picture;
  edit: (label: string, change: (d: Document) => Document) => void;
}

/** The colourway that the bench is in, and the one that it is compared with: in one, the targets of the parts are its own. */
export function useWays({ document, picture, edit }: Props) {
  const job = useJob(picture?.job ?? "");
  const [way, setWay] = useState(() => new URLSearchParams(location.search).get("colourway") ?? "");
  const [turned, setTurned] = useState(0);
  const [following] = useState(() => new Following(stageDrawn, setTurned));
  useEffect(() => { following.arrived(turned); }, [following, turned]);
  // Rendering all of the bench takes as long as the stage does. But what somebody changes meanwhile is meant for the colourway that is chosen.
  const turn = useCallback((id: string, also: () => void) => {
    lately(() => following.to(() => {
      setWay(id);
      also();
    }));
  }, [following]);
  useEffect(() => beforeHands("[data-turns]", () => following.now()), [following]);
  const [against, setAgainst] = useState("before");
  const ways = useMemo(() => job.job?.colourways ?? picture?.colourways ?? [], [job.job?.colourways, picture?.colourways]);
  const colourway = ways.find((w) => w.id === way);
  const facing = ways.find((w) => w.id === against);
  const palette = job.stored?.palette; // that the server has: what is rendered follows it
  const as = useCallback((d: Document, w: Colourway | undefined) => inPalette(inColourway(d, w), palette), [palette]);
  const base = useMemo(() => as(document, colourway), [document, colourway, as]);
  const opposite = useMemo(() => (against === "before" ? undefined : { document: as(document, facing), label: facing?.name ?? words.asSet }), [against, document, facing, as]);

  const editJob = job.edit;
  /** Changes a part, or what it is in the colourway. */
  const change = useCallback(
    (label: string, part: string, what: Partial<Part>) => {
      const c = changeOf(what, document, base.parts.find((p) => p.id === part), ways, colourway);
      const set = c.ways;
      if (set) void editJob(label, (content: Content) => ({ ...content, colourways: set(content.colourways) }));
      if (c.part) edit(label, (d) => ({ ...d, parts: d.parts.map((p) => (p.id === part ? { ...p, ...c.part } : p)) }));
    },
    [document, base, ways, colourway, edit, editJob],
  );

  return { job: job.job, editJob, ways, colourway, turn, against, setAgainst, as, base, opposite, change };
}

export type Ways = ReturnType<typeof useWays>;
