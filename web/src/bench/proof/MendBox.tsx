import styled from "styled-components";
import type { Mend, Part } from "../../api/client";
import { Button, Heading, Key } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Small } from "../../look/Field";
import type { Tool } from "../stage/tools";
import { PatchBox } from "../patch/PatchBox";
import type { Patching } from "../patch/usePatch";
import type { Mending } from "../useMend";
import { Flow } from "../../look/layout";
import * as words from "../../words/proof";

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  li { display: flex; align-items: center; gap: 2px; border-bottom: 1px solid var(--rule); min-height: 28px; }
  li > span { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  li[data-off] > span { color: var(--ink3); text-decoration: line-through; }
  button { padding: 2px 6px; }
`;

const name = (m: Mend, parts: Part[]) => {
  if (m.kind === "brush") return words.mendingBrushStrokesStrokeMore(m.strokes?.length ?? 0, m.strokes?.length === 1 ? "" : "s");
  if (m.kind === "patch") return words.patch;
  return words.moreOfFind(m.box ? words.aPlace : words.theEdge, parts.find((q) => q.id === m.part)?.name ?? words.aPart);
};

/** The mending brush, and what has been mended: each can be switched off and taken out at any time. */
export function MendBox(p: { mends: Mend[]; unfilled?: number[]; parts: Part[]; mend: Mending; patching: Patching; size: { width: number; height: number }; tool: Tool; onTool: (t: Tool) => void }) {
  const patches = p.tool === "patch";
  const { options: o, setOptions, sample } = p.mend;
  const on = p.tool === "mend";
  return (
    <>
      <Heading>{words.mend}</Heading>
      <Flow as="span" $gap={6}>
        <Button aria-pressed={patches} $held={patches} onPress={() => { p.patching.open(undefined); p.onTool(patches ? "none" : "patch"); }}>{words.patchHigh}<Key>F</Key></Button>
        <Button aria-pressed={on} $held={on} onPress={() => p.onTool(on ? "none" : "mend")}>{words.mendingBrush}<Key>J</Key></Button>
      </Flow>
      {on && (
        <>
          <NumberRow label={words.size} value={o.size} min={2} max={300} initial={22} unit={words.px} onDrag={(size) => setOptions((b) => ({ ...b, size }))} onRest={(size) => setOptions((b) => ({ ...b, size }))} />
          <NumberRow label={words.strength} value={o.strength} min={1} max={100} initial={60} unit="%" onDrag={(strength) => setOptions((b) => ({ ...b, strength }))} onRest={(strength) => setOptions((b) => ({ ...b, strength }))} />
          <Toggle on={o.into} onChange={(into) => setOptions((b) => ({ ...b, into }))}>{words.mayCrossIntoParts}</Toggle>
          {sample ? (
            <Flow as="span" $gap={6}>
              <Small>{words.colourFrom(Math.round(sample[0]), Math.round(sample[1]))}</Small>
              <Button $kind="quiet" onPress={() => p.mend.setSample(undefined)}>{words.takeItFromBeside}</Button>
            </Flow>
          ) : (
            <Small>{words.theColourComesFromBesideThe}</Small>
          )}
        </>
      )}
      {patches && !p.patching.patch && <Small>{p.patching.looking ? words.lookingForWhatCouldCoverIt : words.drawAroundWhatMustGoWhat}</Small>}
      {p.mends.length > 0 && (
        <List aria-label={words.whatHasBeenMended}>
          {p.mends.map((m, i) => (
            <li key={i} data-off={m.off || undefined}>
              <span>{name(m, p.parts)}{p.unfilled?.includes(i) && words.coversNothing}</span>
              {m.patch && <Button $kind="quiet" aria-expanded={p.patching.at === i} aria-label={words.openPatchNumber(i + 1)} onPress={() => { p.patching.open(p.patching.at === i ? undefined : i); p.onTool("patch"); }}>{words.open}</Button>}
              <Button $kind="quiet" aria-label={words.moreMendNumber(m.off ? words.off : words.on, i + 1)} aria-pressed={!m.off} onPress={() => p.mend.put(m.off ? words.mendOn : words.mendOff, (list) => list.map((q, j) => (j === i ? { ...q, off: q.off ? undefined : true } : q)))}>{m.off ? words.off : words.on}</Button>
              <Button $kind="quiet" aria-label={words.deleteMendNumber(i + 1)} onPress={() => { p.patching.open(undefined); p.mend.put(words.deleteAMend, (list) => list.filter((_, j) => j !== i)); }}>{words.deleteIt}</Button>
            </li>
          ))}
        </List>
      )}
      {patches && p.patching.patch && <PatchBox patching={p.patching} patch={p.patching.patch} unfilled={p.unfilled?.includes(p.patching.at ?? -1)} size={p.size} />}
    </>
  );
}
