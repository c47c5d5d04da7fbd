import { memo } from "react";
import styled from "styled-components";
import type { Family, Part, PartProof, ShownDrawing, ShownMember, Swatch } from "../api/client";
import { same } from "../api/identity";
import { ColourField, Line } from "../bench/colour/ColourField";
import { lab } from "../bench/figures";
import { Button, Heading, Notice, Segmented } from "../look/controls";
import { NumberRow } from "../look/NumberRow";
import { Disc, Ribbon } from "../look/Disc";
import { Face } from "../look/Face";
import { Select, Small } from "../look/Field";
import { Ends, SwatchButton, Swatches } from "../look/Swatches";
import { Flow, Plain } from "../look/layout";
import { Lock } from "./Lock";
import * as words from "../words/drawing";

const Shows = styled.button<{ $main: boolean }>`
  border: 0;
  background: none;
  padding: 0;
  ${(p) => p.$main && "text-decoration: underline;"}
`;
const MoveTo = styled(Select)`width: 62px;`;

const Member = styled.li`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto auto;
  gap: 6px;
  align-items: center;
  cursor: grab;
  border-bottom: 1px solid var(--rule);
  small { color: var(--ink3); }
`;

interface MembersProps {
  list: Family["members"];
  main: string;
  /** What they become. */
  members: ShownMember[];
  /** The other families. */
  others: { id: string; name: string }[];
  onMembers: (label: string, members: Family["members"]) => void;
  onMove: (colour: string, to: string | undefined) => void;
  onPick: (colour: string) => void;
}

const Members = memo(function Members(p: MembersProps) {
  const { list } = p;
  return (
    <Plain>
      {list.map((m) => {
        const s = p.members.find((q) => q.colour === m.colour);
        return (
          <Member key={m.colour} draggable onDragStart={(e) => e.dataTransfer.setData("text/plain", m.colour)}>
            <Disc from={m.colour} to={s && s.to !== m.colour ? s.to : undefined} size={22} />
            <span>
              <Shows type="button" onClick={() => p.onPick(m.colour)} $main={m.colour === p.main} title={words.showWhereItIs} className="num">{m.colour}</Shows>
              <small className="num"> × {s?.count ?? 0}{s && s.to !== m.colour ? ` → ${s.to}` : ""}</small>
            </span>
            <Lock held={!!m.held} label={m.held ? words.unlockColour(m.colour) : words.lockColour(m.colour)} onPress={() => p.onMembers(m.held ? words.unlock : words.lockLow, list.map((q) => (q.colour === m.colour ? { ...q, held: m.held ? undefined : true } : q)))} />
            <MoveTo aria-label={words.moveColourToAnotherFamily(m.colour)} value="" onChange={(e) => p.onMove(m.colour, e.target.value === "own" ? undefined : e.target.value)} >
              <option value="">{words.move}</option>
              <option value="own">{words.toAFamilyOfItsOwn}</option>
              {p.others.map((q) => <option key={q.id} value={q.id}>{words.toName(q.name)}</option>)}
            </MoveTo>
          </Member>
        );
      })}
    </Plain>
  );
}, (a, b) => same(a, b));

/** What a family becomes, and what it is made of. */
export const FamilyFace = memo(function FamilyFace(p: {
  part?: Part;
  parts: Part[];
  proof?: PartProof;
  shown?: ShownDrawing;
  palette: Swatch[];
  onPart: (label: string, change: Partial<Part>) => void;
  onFamily: (label: string, change: Partial<Family>) => void;
  onDrag: (change: Partial<Family>) => void;
  onDragTarget: (css: string) => void;
  onMembers: MembersProps["onMembers"];
  onMove: MembersProps["onMove"];
  onPick: MembersProps["onPick"];
  onKeepColour: () => void;
  sampling: boolean;
  onSample: () => void;
}) {
  const { part, proof } = p;
  const family = part?.family;
  if (!part || !family) return <Face><Notice>{p.parts.length === 0 ? words.thereIsNothingToRecolourHere : words.noFamilyIsChosenClickA}</Notice></Face>;
  const named = p.palette.find((s) => s.id === part.target.palette_id);
  const members = p.shown?.parts.find((q) => q.id === part.id)?.members ?? [];
  const others = p.parts.filter((q) => q.id !== part.id && q.family).map((q) => ({ id: q.id, name: q.name }));
  const reset = !!part.target.css || !!family.hue || !!family.saturation || !!family.lightness;
  return (
    <Face>
      <Ribbon from={proof?.own_hex ?? family.main} to={proof?.want_hex} />
      <Ends>
        <div><b>{words.inTheDrawing}</b><br /><span className="num">{lab(proof?.own)}</span></div>
        <div><b>{named?.name ?? (part.target.css ? words.setHere : words.leftAsItIsHigh)}</b><br /><span className="num">{part.target.css ? lab(proof?.want) : ""}</span></div>
      </Ends>
      {family.held && <Notice>{words.heldNotOneByteOfThese}</Notice>}
      <Swatches role="group" aria-label={words.coloursOfThePalette}>
        {p.palette.map((s) => (
          <SwatchButton key={s.id} $on={s.id === part.target.palette_id} aria-label={s.name} aria-pressed={s.id === part.target.palette_id} onPress={() => p.onPart(s.name, { target: { css: s.css, palette_id: s.id, tolerance: s.tolerance }, family: { ...family, held: false } })}>
            <Disc from={s.hex ?? "#888"} size={24} />
          </SwatchButton>
        ))}
      </Swatches>
      <Line>
        <span>{words.target}</span>
        <ColourField label={words.target} relative value={part.target.css ?? ""} placeholder={words.n1d6a72LabCmyk} own={proof?.own_hex ?? family.main} onDrag={p.onDragTarget} onColour={(css) => p.onPart(words.targetLow, { target: { css }, family: { ...family, held: false } })} onClear={() => p.onPart(words.leaveAsItIs, { target: {} })} />
        <Button aria-pressed={p.sampling} $held={p.sampling} onPress={p.onSample}>{p.sampling ? words.clickIt : words.sample}</Button>
      </Line>
      {part.target.css && (
        <Line>
          <span>{words.members}</span>
          <Segmented small label={words.howTheMembersFollow} value={family.how ?? "tints"} onChange={(how) => p.onFamily(words.howTheMembersFollowLow, { how })} options={[["tints", words.keepTheTints], ["alike", words.allAlike]]} />
          <span />
        </Line>
      )}
      <NumberRow label={words.hue} value={family.hue ?? 0} min={-180} max={180} unit="°" initial={0} signed onDrag={(hue) => p.onDrag({ hue })} onRest={(hue) => p.onFamily(words.hueLow, { hue })} />
      <NumberRow label={words.saturation} value={family.saturation ?? 0} min={-100} max={100} unit="%" initial={0} signed onDrag={(saturation) => p.onDrag({ saturation })} onRest={(saturation) => p.onFamily(words.saturationLow, { saturation })} />
      <NumberRow label={words.lightness} value={family.lightness ?? 0} min={-50} max={50} initial={0} signed onDrag={(lightness) => p.onDrag({ lightness })} onRest={(lightness) => p.onFamily(words.lightnessLow, { lightness })} />
      <Flow $gap={6} $wrap>
        <Button isDisabled={!reset} onPress={() => p.onPart(words.resetPart(part.name), { target: {}, family: { ...family, hue: undefined, saturation: undefined, lightness: undefined, how: undefined } })}>{words.resetThisFamily}</Button>
        <Button onPress={p.onKeepColour}>{part.target.css && !part.target.palette_id ? words.addTargetToPalette : words.addMainColourToPalette}</Button>
      </Flow>
      <Heading>{words.madeOf}</Heading>
      <Members list={family.members} main={family.main} members={members} others={others} onMembers={p.onMembers} onMove={p.onMove} onPick={p.onPick} />
      <Small>{words.dragAMemberOntoAnotherFamily}</Small>
    </Face>
  );
});
