import styled from "styled-components";
import type { Picture } from "../api/client";
import { Button } from "../look/controls";
import { Select } from "../look/Field";
import { UndoRedo } from "../look/UndoRedo";
import { SignButton } from "../look/SignButton";
import * as words from "../words/stage";

const Together = styled.span`display: flex;`;
const Way = styled(Select)`max-width: 150px;`;

/** In which colourway the stage shows what is worked on; nothing where there is none. */
export function WayChoice({ ways, way, onWay }: { ways: { id: string; name: string }[]; way: string; onWay: (id: string) => void }) {
  if (ways.length === 0) return null;
  return (
    <Way aria-label={words.colourway} value={way} onChange={(e) => onWay(e.target.value)}>
      <option value="">{words.asSet}</option>
      {ways.map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}
    </Way>
  );
}

/** The right end of a bench's bar: undo and redo, the keys, and what is done with all of it. */
export function BarEnd({ picture, onMove, onKeys, onDeliver }: { picture: Pick<Picture, "undo" | "redo">; onMove: (way: "undo" | "redo") => void; onKeys: () => void; onDeliver: () => void }) {
  return (
    <>
      <Together>
        <UndoRedo undo={picture.undo} redo={picture.redo} onMove={onMove} />
        <SignButton says={words.keys} onPress={onKeys}>?</SignButton>
      </Together>
      <Button $kind="solid" onPress={onDeliver}>{words.deliver}</Button>
    </>
  );
}
