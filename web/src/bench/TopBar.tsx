import type { ComponentProps } from "react";
import styled from "styled-components";
import type { Picture } from "../api/client";
import { Bar, Button, Segmented } from "../look/controls";
import { Select } from "../look/Field";
import { UndoRedo } from "../look/UndoRedo";
import { Where } from "../look/Where";
import type { Compare } from "./comparing";
import type { Ways } from "./useWays";

interface Props {
  picture: Picture;
  saving: ComponentProps<typeof Where>["saving"];
  ways: Ways;
  onWay: (id: string) => void;
  compare: Compare;
  onCompare: (c: Compare) => void;
  loupe: boolean;
  onLoupe: () => void;
  onMove: (way: "undo" | "redo") => void;
  onKeys: () => void;
  onDeliver: () => void;
}

const Together = styled.span`display: flex;`;
const Toggled = styled(Button)`&[aria-pressed="true"] { background: var(--rail); color: var(--ink); }`;
const Way = styled(Select)`max-width: 150px;`;
const Against = styled(Select)`max-width: 130px;`;

/** The line above the stage: where one is, in which colourway, and against what it is compared. */
export function TopBar({ picture, saving, ways: { ways, colourway, against, setAgainst }, onWay, compare, onCompare, loupe, onLoupe, onMove, onKeys, onDeliver }: Props) {
  return (
    <Bar>
      <Where picture={picture} saving={saving} />
      {ways.length > 0 && (
        <Way aria-label="Colourway" value={colourway?.id ?? ""} onChange={(e) => onWay(e.target.value)}>
          <option value="">As set</option>
          {ways.map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}
        </Way>
      )}
      <Segmented label="Compare" value={compare} onChange={onCompare} options={[["now", "Now"], ["split", "Split"], ["pair", "Pair"], ["blink", "Blink"]]} />
      {ways.length > 0 && compare !== "now" && (
        <Against aria-label="Against" value={against} onChange={(e) => setAgainst(e.target.value)}>
          <option value="before">with before</option>
          <option value="">with as set</option>
          {ways.map((w) => <option key={w.id} value={w.id}>with {w.name}</option>)}
        </Against>
      )}
      <Toggled $kind="quiet" aria-pressed={loupe} onPress={onLoupe}>Loupe</Toggled>
      <Together>
        <UndoRedo undo={picture.undo} redo={picture.redo} onMove={onMove} />
        <Button $kind="quiet" aria-label="Keys" onPress={onKeys}>?</Button>
      </Together>
      <Button $kind="solid" onPress={onDeliver}>Deliver</Button>
    </Bar>
  );
}
