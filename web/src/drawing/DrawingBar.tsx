import { memo } from "react";
import type { Colourway, Picture } from "../api/client";
import type { Saving } from "../bench/documentStore";
import { Bar, Segmented } from "../look/controls";
import { Where } from "../look/Where";
import { BarEnd, WayChoice } from "../stage/BarEnd";
import * as words from "../words/drawing";

/** The bar of a drawing: where it is, whether it is saved, in which colourway, and what is done with all of it. */
export const DrawingBar = memo(function DrawingBar(p: {
  picture: Picture;
  saving: Saving;
  ways: Colourway[];
  way: string;
  split: boolean;
  onWay: (id: string) => void;
  onSplit: (on: boolean) => void;
  onMove: (way: "undo" | "redo") => void;
  onKeys: () => void;
  onDeliver: () => void;
}) {
  const { picture } = p;
  return (
    <Bar>
      <Where picture={picture} saving={p.saving} />
      <WayChoice ways={p.ways} way={p.way} onWay={p.onWay} />
      <Segmented label={words.compare} value={p.split ? "split" : "now"} onChange={(v) => p.onSplit(v === "split")} options={[["now", words.now], ["split", words.split]]} />
      <BarEnd picture={picture} onMove={p.onMove} onKeys={p.onKeys} onDeliver={p.onDeliver} />
    </Bar>
  );
});
