import { useEffect, useRef } from "react";
import styled from "styled-components";
import type { Patch } from "../../api/client";
import { Button, Notice, NumberRow, Toggle } from "../../look/controls";
import { Small } from "../../look/Field";
import { fillings } from "./patches";
import type { Patching } from "./usePatch";

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
    <NumberRow label={label} value={value} min={min} max={max} initial={initial} {...extra} onDrag={(v) => p.change("", { ...patch, ...put(v) }, false)} onRest={(v) => p.change(`patch: ${label.toLowerCase()}`, { ...patch, ...put(v) }, true)} />
  );
  return (
    <Box ref={box} role="group" aria-label="The open patch">
      {none ? (
        <Notice>Nothing around it can be an example, so it covers nothing yet. Draw around less, or drag from inside the outline to what shall cover it.</Notice>
      ) : (
        <Small>{patch.fill ? "Filled by what goes on around it. Drag from inside the outline to cover it from one place instead." : "Drag from inside the outline to what shall cover it."} Nodes can be moved, bent and taken out.</Small>
      )}
      <Buttons>
        <Button isDisabled={p.looking} onPress={() => void p.findCover()}>{p.looking ? "Looking" : p.offered && p.offered.list.length > 1 ? `Another cover, ${p.offered.at + 1} of ${p.offered.list.length}` : "Find a cover"}</Button>
        <Button isDisabled={none} onPress={p.fill}>{patch.fill && !none ? `Another filling, ${patch.fill} of ${fillings}` : "Fill by example"}</Button>
      </Buttons>
      {p.repeats && !patch.fill && <Small>It stands near by and has something in it that will be seen twice.</Small>}
      {!patch.fill && <>
        {hand("Across", x, -size.width, size.width, 0, (v) => ({ shift: [v, y] }), { signed: true })}
        {hand("Down", y, -size.height, size.height, 0, (v) => ({ shift: [x, v] }), { signed: true })}
        {hand("Turn", patch.turn ?? 0, -180, 180, 0, (turn) => ({ turn: turn || undefined }), { signed: true, unit: "°" })}
        {hand("Enlarge", 100 * (patch.scale || 1), 25, 400, 100, (v) => ({ scale: v === 100 ? undefined : v / 100 }), { unit: "%" })}
      </>}
      {hand("Feather", patch.feather, 0, 60, 3, (feather) => ({ feather }), { unit: "px" })}
      {!patch.fill && <>
        <Toggle on={!!patch.seamless} onChange={(on) => p.change(on ? "patch seamless" : "patch as it is", { ...patch, seamless: on || undefined }, true)}>Seamless: takes the light around it</Toggle>
        <Toggle on={!!patch.flip} onChange={(on) => p.change("flip a patch", { ...patch, flip: on || undefined }, true)}>Flipped</Toggle>
      </>}
    </Box>
  );
}
