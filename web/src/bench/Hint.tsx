import type { ReactNode } from "react";
import { Key } from "../look/controls";
import type { Compare } from "./stage/comparing";
import type { Isolating } from "./isolate/useIsolate";
import { isKind, kinds } from "./isolate/kinds";
import type { Patching } from "./patch/usePatch";
import type { Tool } from "./stage/tools";

interface Props {
  tool: Tool;
  /** Which of the column's faces is shown. */
  face: string;
  compare: Compare;
  how: Isolating;
  patching: Patching;
  walk?: { stops: number[][]; at: number };
  /** The pattern at hand lies in perspective. */
  corners?: number;
  /** Something is shown that is not stored yet. */
  draft: boolean;
}

const Sizes = () => <><Key>[</Key> <Key>]</Key> size</>;
const Esc = ({ what }: { what: string }) => <><Key>Esc</Key> {what}</>;

/** What the tool at hand wants next, in a line; undefined where that is plain. */
export function hintOf({ tool, face, compare, how, patching, walk, corners, draft }: Props): ReactNode {
  const says: Partial<Record<Tool, ReactNode>> = {
    sample: <>Click the colour to take. <Esc what="leaves it." /></>,
    grey: <>Click the grey card, or something else that is grey. <Esc what="leaves it." /></>,
    match: <>Click where the target must be met. <Esc what="leaves it." /></>,
    mend: <>Brush over what to remove. <Key>Alt</Key> click takes a colour, <Sizes />, <Esc what="ends" /></>,
    patch:
      patching.patch ? <>Drag from inside the outline to what shall cover it. <Esc what="closes the patch" /></>
      : patching.looking ? "Looking for what could cover it"
      : <>Draw around what must go. <Esc what="ends" /></>,
    pattern: <>Drag to move the pattern{corners === 4 ? ", or its corners" : corners ? ", or the nodes of its grid" : ""}. <Esc what="ends" /></>,
    push: <>Push the pattern where it must go. <Sizes />, <Esc what="ends" /></>,
    copy: <>Drag to move the copy, its corners to scale it, the point above it to turn it. <Esc what="ends" /></>,
    away: <>Brush the rebuilding away. <Sizes />, <Esc what="ends" /></>,
  };
  if (says[tool]) return says[tool];
  if (walk) return <>Edge, {walk.at + 1} of {walk.stops.length}. <Key>N</Key> goes on, <Key>Shift N</Key> back, <Esc what="ends" /></>;
  if (face === "isolate") {
    if (how.ring) return <>Now a stroke inside the thing. <Esc what="leaves the ring" /></>;
    if (how.nodes || how.drawing) return <>{how.options.byHand ? "Draw on, or click for a straight piece" : "Click on; drag for a curve"}. The first node closes it, <Esc what="ends" /></>;
    if (isKind(tool) && how.at === undefined && !draft) {
      const says = tool === "outline" && how.options.byHand ? "Draw around the thing in one go; clicks make straight pieces" : kinds[tool].hint;
      return <>{says}{tool === "sweep" && <>. Hold <Key>Alt</Key> to take away, <Sizes /></>}</>;
    }
  }
  return compare === "split" ? <>Drag the bar to wipe. Hold <Key>V</Key> to see the picture as it came in.</> : undefined;
}
