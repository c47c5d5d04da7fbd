import { memo } from "react";
import type { Colourway, Picture } from "../api/client";
import type { Saving } from "../bench/documentStore";
import { Bar, Button, Segmented } from "../look/controls";
import { Select } from "../look/Field";
import { UndoRedo } from "../look/UndoRedo";
import { Where } from "../look/Where";

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
  onKeys: (on: boolean) => void;
  onDeliver: (on: boolean) => void;
}) {
  const { picture } = p;
  return (
    <Bar>
      <Where picture={picture} saving={p.saving} />
      {p.ways.length > 0 && (
        <Select aria-label="Colourway" value={p.way} onChange={(e) => p.onWay(e.target.value)} style={{ maxWidth: 150 }}>
          <option value="">As set</option>
          {p.ways.map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}
        </Select>
      )}
      <Segmented label="Compare" value={p.split ? "split" : "now"} onChange={(v) => p.onSplit(v === "split")} options={[["now", "Now"], ["split", "Split"]]} />
      <span style={{ display: "flex" }}>
        <UndoRedo undo={picture.undo} redo={picture.redo} onMove={p.onMove} />
        <Button $kind="quiet" aria-label="Keys" onPress={() => p.onKeys(true)}>?</Button>
      </span>
      <Button $kind="solid" onPress={() => p.onDeliver(true)}>Deliver</Button>
    </Bar>
  );
});
