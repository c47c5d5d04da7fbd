import type { ComponentProps } from "react";
import styled from "styled-components";
import type { Picture } from "../api/client";
import { Bar, Button, Segmented } from "../look/controls";
import { Select } from "../look/Field";
import { Where } from "../look/Where";
import { BarEnd, WayChoice } from "../stage/BarEnd";
import type { Compare } from "./stage/comparing";
import type { Ways } from "./useWays";
import * as words from "../words/bench";

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

const Toggled = styled(Button)`&[aria-pressed="true"] { background: var(--rail); color: var(--ink); }`;
const Against = styled(Select)`max-width: 130px;`;

/** The line above the stage: where one is, in which colourway, and against what it is compared. */
export function TopBar({ picture, saving, ways: { ways, colourway, against, setAgainst }, onWay, compare, onCompare, loupe, onLoupe, onMove, onKeys, onDeliver }: Props) {
  return (
    <Bar>
      <Where picture={picture} saving={saving} />
      <WayChoice ways={ways} way={colourway?.id ?? ""} onWay={onWay} />
      <Segmented label={words.compare} value={compare} onChange={onCompare} options={[["now", words.now], ["split", words.split], ["pair", words.pair], ["blink", words.blink]]} />
      {ways.length > 0 && compare !== "now" && (
        <Against aria-label={words.against} value={against} onChange={(e) => setAgainst(e.target.value)}>
          <option value="before">{words.withBefore}</option>
          <option value="">{words.withAsSet}</option>
          {ways.map((w) => <option key={w.id} value={w.id}>{words.withName(w.name)}</option>)}
        </Against>
      )}
      <Toggled $kind="quiet" aria-pressed={loupe} onPress={onLoupe}>{words.loupe}</Toggled>
      <BarEnd picture={picture} onMove={onMove} onKeys={onKeys} onDeliver={onDeliver} />
    </Bar>
  );
}
