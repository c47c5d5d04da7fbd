import type { Pick } from "../../api/client";
import * as words from "../../words/picks";

export type Kind = Pick["kind"];
export type Join = Pick["join"];

export interface KindInfo {
  name: string;
  key?: string;
  /** What to do, in one line on the stage. */
  hint: string;
}

/** The kinds of pick, in the order in which they are offered. */
export const kinds: Record<Kind, KindInfo> = {
  sweep: { name: words.sweep, key: "S", hint: words.dragInsideTheThingItGrows },
  brush: { name: words.brush, key: "B", hint: words.paintShiftClickDrawsAStraight },
  like: { name: words.likeColours, key: "L", hint: words.clickAColourShiftAddsOne },
  outline: { name: words.outline, key: "O", hint: words.clickCornerAfterCornerDragFor },
  marks: { name: words.marks, key: "M", hint: words.dragALooseRingAroundThe },
  subject: { name: words.subject, key: "U", hint: words.theMainThingOfThePicture },
  depth: { name: words.depth, key: "D", hint: words.clickTheThingThenSetNear },
  hues: { name: words.hues, key: "H", hint: words.dragAlongTheThingTheBand },
  tones: { name: words.tones, key: "T", hint: words.dragAlongTheThingTheBand },
  part: { name: words.otherPart, key: "R", hint: words.reuseAPartThatIsMade },
  mask: { name: words.maskFile, hint: words.bringInAGreyPictureWhite },
};

/** What is offered: a button may stand for two kinds that are set in the same place. */
export const offers: { name: string; kinds: [Kind, ...Kind[]] }[] = [
  { name: words.sweep, kinds: ["sweep"] },
  { name: words.brush, kinds: ["brush"] },
  { name: words.likeColours, kinds: ["like"] },
  { name: words.outline, kinds: ["outline"] },
  { name: words.marks, kinds: ["marks"] },
  { name: words.subject, kinds: ["subject"] },
  { name: words.depth, kinds: ["depth"] },
  { name: words.tonesHues, kinds: ["hues", "tones"] },
  { name: words.otherPart, kinds: ["part", "mask"] },
];

export const joins: Record<Join, { name: string; sign: string; what: string }> = {
  add: { name: words.add, sign: "+", what: words.thePartGrowsByThisPick },
  subtract: { name: words.takeAway, sign: "−", what: words.thePartLosesWhatThisPick },
  intersect: { name: words.onlyWhereBoth, sign: "∩", what: words.ofThePartOnlyWhatThis },
};

export const joinList = Object.keys(joins) as Join[];

/** Whether a tool is a kind of pick. */
export const isKind = (t: string): t is Kind => t in kinds;
