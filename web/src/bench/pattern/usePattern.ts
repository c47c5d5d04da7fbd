import { useState } from "react";
import type { Document, Part } from "../../api/client";
import { placed, unplaced, unplacedStroke } from "../copies/copies";
import type { Gesture, Point } from "../isolate/gestures";
import { movedBy, nodesOf, pushedBy, relaid, withNodes } from "./patterns";
import * as words from "../../words/bench";

interface Props {
  document: Document;
  part?: Part;
  edit: (label: string, change: (d: Document) => Document) => void;
  preview: (d?: Document, part?: string) => void;
  setDraft: (d: Document | undefined) => void;
}

/** The pattern of a part under a hand on the picture. That of a copy lies on its original: what a hand does is brought there. */
export function usePattern({ document, part, edit, preview, setDraft }: Props) {
  const [size, setSize] = useState(130); // of the tip that pushes

  /** Moves the pattern, or pushes what is under the tip. */
  const gesture = (how: "move" | "push") => (g: Gesture) => {
    if (g.kind !== "stroke" || !part?.pattern) return;
    const stroke = unplacedStroke(part.copy, g.stroke);
    const [first, last] = [stroke.points[0], stroke.points.at(-1)] as (Point | undefined)[];
    if (!first || !last) return;
    const lay = how === "push" ? pushedBy(part.pattern.lay, stroke) : movedBy(part.pattern.lay, first, last);
    if (g.done) {
      preview();
      if (lay !== part.pattern.lay) edit(words.howThePattern(how), (d) => relaid(d, part.id, lay));
    } else preview(relaid(document, part.id, lay), part.id);
  };

  const setNodes = (nodes: { p: number[] }[], done: boolean) => {
    if (!part?.pattern || nodes.length !== nodesOf(part.pattern.lay)?.length) return; // none can be taken out or put in
    const lay = withNodes(part.pattern.lay, nodes.map((n) => unplaced(part.copy, n.p as Point)));
    setDraft(done ? undefined : relaid(document, part.id, lay));
    if (done) edit(lay.grid ? words.aNodeOfThePattern : words.aCornerOfThePattern, (d) => relaid(d, part.id, lay));
  };

  /** The corners of its square of cloth, or all nodes of its grid, where they are seen. */
  const nodes = part?.pattern && nodesOf(part.pattern.lay)?.map((p) => ({ p: part.copy ? placed(part.copy, p) : p }));

  return { size, setSize, gesture, nodes, gridded: !!part?.pattern?.lay.grid, setNodes };
}
