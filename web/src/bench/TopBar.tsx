import type { ComponentProps } from "react";
import styled from "styled-components";
import type { Colourway, Picture } from "../api/client";
import { Bar, Button, Segmented } from "../look/controls";
import { Select } from "../look/Field";
import { still } from "../look/still";
import { Where } from "../look/Where";
import { BarEnd, WayChoice } from "../stage/BarEnd";
import type { Compare } from "./stage/comparing";
import * as words from "../words/bench";

interface Props {
  picture: Picture;
  saving: ComponentProps<typeof Where>["saving"];
  ways: Colourway[];
  way: string;
  onWay: (id: string) => void;
  against: string;
  onAgainst: (id: string) => void;
  compare: Compare;
  onCompare: (c: Compare) => void;
  loupe: boolean;
  onLoupe: () => void;
  onMove: (way: "undo" | "redo") => void;
  onKeys: () => void;
  onDeliver: () => void;
}

const Toggled = styled(Button)`&[aria-pressed="true"] { background: var(--rail); color: var(--ink); }`;
const Against = styled(Select)`max-width: 130px;`;

/** The line above the stage: where one is, in which colourway, and against what it is compared. */
export const TopBar = still(function TopBar({ picture, saving, ways, way, onWay, against, onAgainst, compare, onCompare, loupe, onLoupe, onMove, onKeys, onDeliver }: Props) {
  return (
    <Bar>
      <Where picture={picture} saving={saving} />
      <WayChoice ways={ways} way={way} onWay={onWay} />
      <Segmented label={words.compare} value={compare} onChange={onCompare} options={[["now", words.now], ["split", words.split], ["pair", words.pair], ["blink", words.blink]]} />
      {ways.length > 0 && compare !== "now" && (
        <Against aria-label={words.against} value={against} onChange={(e) => onAgainst(e.target.value)}>
          <option value="before">{words.withBefore}</option>
          <option value="">{words.withAsSet}</option>
          {ways.map((w) => <option key={w.id} value={w.id}>{words.withName(w.name)}</option>)}
        </Against>
      )}
      <Toggled $kind="quiet" aria-pressed={loupe} onPress={onLoupe}>{words.loupe}</Toggled>
      <BarEnd picture={picture} onMove={onMove} onKeys={onKeys} onDeliver={onDeliver} />
    </Bar>
  );
});
