import type { Pick } from "../../api/client";

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
  sweep: { name: "Sweep", key: "S", hint: "Drag inside the thing; it grows to the edges" },
  brush: { name: "Brush", key: "B", hint: "Paint. Shift-click draws a straight line from the last point" },
  like: { name: "Like colours", key: "L", hint: "Click a colour. Shift adds one, Alt marks what it is not, dragging takes an area" },
  outline: { name: "Outline", key: "O", hint: "Click corner after corner; drag for a curve. The first node closes it" },
  marks: { name: "Marks", key: "M", hint: "Drag a loose ring around the thing, then a stroke inside it" },
  subject: { name: "Subject", key: "U", hint: "The main thing of the picture is found without help" },
  depth: { name: "Depth", key: "D", hint: "Click the thing; then set near and far" },
  hues: { name: "Hues", key: "H", hint: "Drag along the thing; the band widens to what you pass" },
  tones: { name: "Tones", key: "T", hint: "Drag along the thing; the band widens to what you pass" },
  part: { name: "Other part", key: "R", hint: "Reuse a part that is made already" },
  mask: { name: "Mask file", hint: "Bring in a grey picture, white for the part" },
};

/** What is offered: a button may stand for two kinds that are set in the same place. */
export const offers: { name: string; kinds: [Kind, ...Kind[]] }[] = [
  { name: "Sweep", kinds: ["sweep"] },
  { name: "Brush", kinds: ["brush"] },
  { name: "Like colours", kinds: ["like"] },
  { name: "Outline", kinds: ["outline"] },
  { name: "Marks", kinds: ["marks"] },
  { name: "Subject", kinds: ["subject"] },
  { name: "Depth", kinds: ["depth"] },
  { name: "Tones, hues", kinds: ["hues", "tones"] },
  { name: "Other part", kinds: ["part", "mask"] },
];

export const joins: Record<Join, { name: string; sign: string; what: string }> = {
  add: { name: "Add", sign: "+", what: "the part grows by this pick" },
  subtract: { name: "Take away", sign: "−", what: "the part loses what this pick covers" },
  intersect: { name: "Only where both", sign: "∩", what: "of the part only what this pick covers too is left" },
};

export const joinList = Object.keys(joins) as Join[];

const count = (n: number, one: string) => `${n} ${one}${n === 1 ? "" : "s"}`;

/** What a pick holds, in a few words. */
export function summary(p: Pick, partName: (id: string) => string): string {
  switch (p.kind) {
    case "sweep":
      return count(p.strokes?.length ?? 0, "stroke");
    case "brush":
      return count(p.strokes?.length ?? 0, "stroke") + (p.softness ? `, soft ${Math.round(p.softness * 100)}` : "") + (p.limit ? ", to edges" : "");
    case "like":
      return `${count((p.samples?.length ?? 0) + (p.boxes?.length ?? 0), "sample")}${p.not?.length ? `, ${p.not.length} not` : ""}, tolerance ${p.tolerance ?? 0}`;
    case "outline":
      return count(p.nodes?.length ?? 0, "node") + (p.snap ? ", snapped" : "");
    case "marks":
      return `ring, ${count((p.inside?.length ?? 0) + (p.outside?.length ?? 0), "stroke")}`;
    case "hues":
      return `${p.from ?? 0}° to ${p.to ?? 0}°`;
    case "tones":
      return `L ${p.from ?? 0} to ${p.to ?? 0}`;
    case "depth":
      return `${p.from ?? 0} to ${p.to ?? 0}`;
    case "part":
      return partName(p.part ?? "");
    case "mask":
      return "brought in";
    case "subject":
      return "found";
  }
}

/** Whether a tool is a kind of pick. */
export const isKind = (t: string): t is Kind => t in kinds;
