import { useState } from "react";
import styled from "styled-components";
import type { Picture } from "../api/client";
import { Button } from "../look/controls";
import { Select } from "../look/Field";
import { UndoRedo } from "../look/UndoRedo";
import { SignButton } from "../look/SignButton";
import { still } from "../look/still";
import * as words from "../words/stage";

const Together = styled.span`display: flex;`;
const Way = styled(Select)`max-width: 150px;`;

/** In which colourway the stage shows what is worked on; nothing where there is none. It says what was chosen before the page follows. */
export function WayChoice({ ways, way, onWay }: { ways: { id: string; name: string }[]; way: string; onWay: (id: string) => void }) {
  const [chosen, setChosen] = useState(way);
  const [was, setWas] = useState(way);
  if (was !== way) {
    setWas(way);
    setChosen(way);
  }
  if (ways.length === 0) return null;
  const choose = (id: string) => {
    setChosen(id);
    onWay(id);
  };
  return (
    <Way data-turns aria-label={words.colourway} value={chosen} onChange={(e) => choose(e.target.value)}>
      <option value="">{words.asSet}</option>
      {ways.map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}
    </Way>
  );
}

/** The right end of a bench's bar: undo and redo, the keys, and what is done with all of it. */
export const BarEnd = still(function BarEnd({ picture, onMove, onKeys, onDeliver }: { picture: Pick<Picture, "undo" | "redo">; onMove: (way: "undo" | "redo") => void; onKeys: () => void; onDeliver: () => void }) {
  return (
    <>
      <Together>
        <UndoRedo undo={picture.undo} redo={picture.redo} onMove={onMove} />
        <SignButton says={words.keys} onPress={onKeys}>?</SignButton>
      </Together>
      <Button $kind="solid" onPress={onDeliver}>{words.deliver}</Button>
    </>
  );
});
