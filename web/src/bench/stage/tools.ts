import type { Kind } from "../isolate/kinds";
import type { Does } from "./keyCursor";
import * as words from "../../words/bench";

/** What a hand does on the stage: make a pick, take or put something at a point, brush, or nothing but move. */
export type Tool = Kind | "sample" | "match" | "mend" | "away" | "patch" | "pattern" | "push" | "copy" | "grey" | "none";

/** Tools that draw with a round tip. */
export const tipped: ReadonlySet<Tool> = new Set<Tool>(["sweep", "brush", "marks", "mend", "away", "push"]);
/** Tools whose drag is a freehand path. */
export const freehand: ReadonlySet<Tool> = new Set<Tool>(["sweep", "brush", "marks", "hues", "tones", "depth", "mend", "away", "patch", "pattern", "push", "copy"]);
/** Tools that take one point. */
export const points: ReadonlySet<Tool> = new Set<Tool>(["sample", "match", "grey"]);
/** Tools that click, and pull out of where they clicked. */
export const clicking: ReadonlySet<Tool> = new Set<Tool>(["like", "outline"]);

/** What keys do with the tool at hand. */
export function doesWith(tool: Tool, byHand: boolean): Does {
  if (points.has(tool) || (clicking.has(tool) && !(tool === "outline" && byHand))) return "clicks";
  return freehand.has(tool) || tool === "outline" ? words.draws : words.movesThePicture;
}

/** The pointer over the stage. */
export const cursorOf = (tool: Tool) => (tipped.has(tool) ? "none" : freehand.has(tool) || clicking.has(tool) || points.has(tool) ? "crosshair" : "grab");
