import type { Pick } from "../../api/client";
import * as words from "../../words/isolate";

/** What a pick holds, in a few words. */
export function summary(p: Pick, partName: (id: string) => string): string {
  switch (p.kind) {
    case "sweep":
      return words.strokesCounted(p.strokes?.length ?? 0);
    case "brush":
      return words.strokesCounted(p.strokes?.length ?? 0) + (p.softness ? words.softSoftness(Math.round(p.softness * 100)) : "") + (p.limit ? words.toEdges : "");
    case "like":
      return words.samplesMoreTolerance(words.samplesCounted((p.samples?.length ?? 0) + (p.boxes?.length ?? 0)), p.not?.length ? words.samplesNot(p.not.length) : "", p.tolerance ?? 0);
    case "outline":
      return words.nodesCounted(p.nodes?.length ?? 0) + (p.snap ? words.snapped : "");
    case "marks":
      return words.ringAnd(words.strokesCounted((p.inside?.length ?? 0) + (p.outside?.length ?? 0)));
    case "hues":
      return words.fromDegreesToDegrees(p.from ?? 0, p.to ?? 0);
    case "tones":
      return words.lFromTo(p.from ?? 0, p.to ?? 0);
    case "depth":
      return words.fromTo(p.from ?? 0, p.to ?? 0);
    case "part":
      return partName(p.part ?? "");
    case "mask":
      return words.broughtIn;
    case "subject":
      return words.found;
  }
}
