import type { ReactNode } from "react";
import { Key } from "../look/controls";
import type { Compare } from "./stage/comparing";
import type { Isolating } from "./isolate/useIsolate";
import { isKind, kinds } from "./isolate/kinds";
import type { Patching } from "./patch/usePatch";
import type { Tool } from "./stage/tools";
import * as words from "../words/bench";

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

const Sizes = () => <><Key>[</Key> <Key>]</Key>{words.size}</>;
const Esc = ({ what }: { what: string }) => <><Key>{words.esc}</Key> {what}</>;

/** What the tool at hand wants next, in a line; undefined where that is plain. */
export function hintOf({ tool, face, compare, how, patching, walk, corners, draft }: Props): ReactNode {
  const says: Partial<Record<Tool, ReactNode>> = {
    sample: <>{words.clickTheColourToTake}<Esc what={words.leavesIt} /></>,
    grey: <>{words.clickTheGreyCardOrSomething}<Esc what={words.leavesIt} /></>,
    match: <>{words.clickWhereTheTargetMustBe}<Esc what={words.leavesIt} /></>,
    mend: <>{words.brushOverWhatToRemove}<Key>{words.alt}</Key>{words.clickTakesAColour}<Sizes />, <Esc what={words.ends} /></>,
    patch:
      patching.patch ? <>{words.dragFromInsideTheOutlineTo}<Esc what={words.closesThePatch} /></>
      : patching.looking ? words.lookingForWhatCouldCoverIt
      : <>{words.drawAroundWhatMustGo}<Esc what={words.ends} /></>,
    pattern: <>{words.dragToMoveThePattern}{corners === 4 ? words.orItsCorners : corners ? words.orTheNodesOfItsGrid : ""}. <Esc what={words.ends} /></>,
    push: <>{words.pushThePatternWhereItMust}<Sizes />, <Esc what={words.ends} /></>,
    copy: <>{words.dragToMoveTheCopyIts}<Esc what={words.ends} /></>,
    away: <>{words.brushTheRebuildingAwayHigh}<Sizes />, <Esc what={words.ends} /></>,
  };
  if (says[tool]) return says[tool];
  if (walk) return <>{words.edgeAtOfStops(walk.at + 1, walk.stops.length)}<Key>N</Key>{words.goesOn}<Key>{words.shiftN}</Key>{words.back}<Esc what={words.ends} /></>;
  if (face === "isolate") {
    if (how.ring) return <>{words.nowAStrokeInsideTheThing}<Esc what={words.leavesTheRing} /></>;
    if (how.nodes || how.drawing) return <>{how.options.byHand ? words.drawOnOrClickForA : words.clickOnDragForACurve}{words.theFirstNodeClosesIt}<Esc what={words.ends} /></>;
    if (isKind(tool) && how.at === undefined && !draft) {
      const says = tool === "outline" && how.options.byHand ? words.drawAroundTheThingInOne : kinds[tool].hint;
      return <>{says}{tool === "sweep" && <>{words.hold}<Key>{words.alt}</Key>{words.toTakeAway}<Sizes /></>}</>;
    }
  }
  return compare === "split" ? <>{words.dragTheBarToWipeHold}<Key>V</Key>{words.toSeeThePictureAsIt}</> : undefined;
}
