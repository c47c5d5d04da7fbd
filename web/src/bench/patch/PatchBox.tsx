import { useEffect, useRef } from "react";
import styled from "styled-components";
import type { Patch } from "../../api/client";
import { Button, Notice } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Small } from "../../look/Field";
import { fillings } from "./patches";
import type { Patching } from "./usePatch";
import * as words from "../../words/patch";

const Box = styled.div`
  display: grid;
  gap: 8px;
  padding: 8px 0 10px;
`;
const Buttons = styled.span`display: flex; gap: 6px; flex-wrap: wrap; align-items: center;`;

/** The hands of the patch that is open. */
export function PatchBox({ patching: p, patch, unfilled, size }: { patching: Patching; patch: Patch; unfilled?: boolean; size: { width: number; height: number } }) {
  const [x = 0, y = 0] = patch.shift;
  const none = !!patch.fill && !!unfilled; // what was measured is of the moment before
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => { box.current?.scrollIntoView({ block: "nearest" }); }, []); // the list may be long
  const hand = (label: string, value: number, min: number, max: number, initial: number, put: (v: number) => Partial<Patch>, extra?: { signed?: boolean; unit?: string; step?: number }) => (
    <NumberRow label={label} value={value} min={min} max={max} initial={initial} {...extra} onDrag={(v) => p.change("", { ...patch, ...put(v) }, false)} onRest={(v) => p.change(words.patchSetting(label), { ...patch, ...put(v) }, true)} />
  );
  return (
    <Box ref={box} role="group" aria-label={words.theOpenPatch}>
      {none ? (
        <Notice>{words.nothingAroundItCanBeAn}</Notice>
      ) : (
        <Small>{patch.fill ? words.filledByWhatGoesOnAround : words.dragFromInsideTheOutlineTo}{words.nodesCanBeMovedBentAnd}</Small>
      )}
      <Buttons>
        <Button isDisabled={p.looking} onPress={() => void p.findCover()}>{p.looking ? words.looking : p.offered && p.offered.list.length > 1 ? words.anotherCoverAtOfList(p.offered.at + 1, p.offered.list.length) : words.findACover}</Button>
        <Button isDisabled={none} onPress={p.fill}>{patch.fill && !none ? words.anotherFillingFillOfFillings(patch.fill, fillings) : words.fillByExample}</Button>
      </Buttons>
      {p.repeats && !patch.fill && <Small>{words.itStandsNearByAndHas}</Small>}
      {!patch.fill && <>
        {hand(words.across, x, -size.width, size.width, 0, (v) => ({ shift: [v, y] }), { signed: true })}
        {hand(words.down, y, -size.height, size.height, 0, (v) => ({ shift: [x, v] }), { signed: true })}
        {hand(words.turn, patch.turn ?? 0, -180, 180, 0, (turn) => ({ turn: turn || undefined }), { signed: true, unit: "°" })}
        {hand(words.enlarge, 100 * (patch.scale || 1), 25, 400, 100, (v) => ({ scale: v === 100 ? undefined : v / 100 }), { unit: "%" })}
      </>}
      {hand(words.feather, patch.feather, 0, 60, 3, (feather) => ({ feather }), { unit: "px" })}
      {!patch.fill && <>
        <Toggle on={!!patch.seamless} onChange={(on) => p.change(on ? words.patchSeamless : words.patchAsItIs, { ...patch, seamless: on || undefined }, true)}>{words.seamlessTakesTheLightAroundIt}</Toggle>
        <Toggle on={!!patch.flip} onChange={(on) => p.change(words.flipAPatch, { ...patch, flip: on || undefined }, true)}>{words.flipped}</Toggle>
      </>}
    </Box>
  );
}
