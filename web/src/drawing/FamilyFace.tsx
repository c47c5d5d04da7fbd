import { memo } from "react";
import styled from "styled-components";
import type { Family, Part, PartProof, ShownDrawing, ShownMember, Swatch } from "../api/client";
import { same } from "../api/identity";
import { ColourField, Line } from "../bench/colour/ColourField";
import { lab } from "../bench/figures";
import { Button, Heading, Notice, NumberRow, Segmented } from "../look/controls";
import { Disc, Ribbon } from "../look/Disc";
import { Face } from "../look/Face";
import { Select, Small } from "../look/Field";
import { Ends, SwatchButton, Swatches } from "../look/Swatches";
import { Flow, Plain } from "../look/layout";
import { Lock } from "./Lock";

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
              <Shows type="button" onClick={() => p.onPick(m.colour)} $main={m.colour === p.main} title="Show where it is" className="num">{m.colour}</Shows>
              <small className="num"> × {s?.count ?? 0}{s && s.to !== m.colour ? ` → ${s.to}` : ""}</small>
            </span>
            <Lock held={!!m.held} label={m.held ? `Unlock ${m.colour}` : `Lock ${m.colour}`} onPress={() => p.onMembers(m.held ? "unlock" : "lock", list.map((q) => (q.colour === m.colour ? { ...q, held: m.held ? undefined : true } : q)))} />
            <MoveTo aria-label={`Move ${m.colour} to another family`} value="" onChange={(e) => p.onMove(m.colour, e.target.value === "own" ? undefined : e.target.value)} >
              <option value="">Move</option>
              <option value="own">to a family of its own</option>
              {p.others.map((q) => <option key={q.id} value={q.id}>to {q.name}</option>)}
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
  if (!part || !family) return <Face><Notice>{p.parts.length === 0 ? "There is nothing to recolour here. An embedded picture can be opened as a photo." : "No family is chosen. Click a shape of the drawing, or a family in the list."}</Notice></Face>;
  const named = p.palette.find((s) => s.id === part.target.palette_id);
  const members = p.shown?.parts.find((q) => q.id === part.id)?.members ?? [];
  const others = p.parts.filter((q) => q.id !== part.id && q.family).map((q) => ({ id: q.id, name: q.name }));
  const reset = !!part.target.css || !!family.hue || !!family.saturation || !!family.lightness;
  return (
    <Face>
      <Ribbon from={proof?.own_hex ?? family.main} to={proof?.want_hex} />
      <Ends>
        <div><b>In the drawing</b><br /><span className="num">{lab(proof?.own)}</span></div>
        <div><b>{named?.name ?? (part.target.css ? "Set here" : "Left as it is")}</b><br /><span className="num">{part.target.css ? lab(proof?.want) : ""}</span></div>
      </Ends>
      {family.held && <Notice>Held: not one byte of these colours changes.</Notice>}
      <Swatches role="group" aria-label="Colours of the palette">
        {p.palette.map((s) => (
          <SwatchButton key={s.id} $on={s.id === part.target.palette_id} aria-label={s.name} aria-pressed={s.id === part.target.palette_id} onPress={() => p.onPart(s.name, { target: { css: s.css, palette_id: s.id, tolerance: s.tolerance }, family: { ...family, held: false } })}>
            <Disc from={s.hex ?? "#888"} size={24} />
          </SwatchButton>
        ))}
      </Swatches>
      <Line>
        <span>Target</span>
        <ColourField label="Target" relative value={part.target.css ?? ""} placeholder="#1d6a72, lab(), cmyk()" own={proof?.own_hex ?? family.main} onDrag={p.onDragTarget} onColour={(css) => p.onPart("target", { target: { css }, family: { ...family, held: false } })} onClear={() => p.onPart("leave as it is", { target: {} })} />
        <Button aria-pressed={p.sampling} onPress={p.onSample}>{p.sampling ? "Click it" : "Sample"}</Button>
      </Line>
      {part.target.css && (
        <Line>
          <span>Members</span>
          <Segmented small label="How the members follow" value={family.how ?? "tints"} onChange={(how) => p.onFamily("how the members follow", { how })} options={[["tints", "Keep the tints"], ["alike", "All alike"]]} />
          <span />
        </Line>
      )}
      <NumberRow label="Hue" value={family.hue ?? 0} min={-180} max={180} unit="°" initial={0} signed onDrag={(hue) => p.onDrag({ hue })} onRest={(hue) => p.onFamily("hue", { hue })} />
      <NumberRow label="Saturation" value={family.saturation ?? 0} min={-100} max={100} unit="%" initial={0} signed onDrag={(saturation) => p.onDrag({ saturation })} onRest={(saturation) => p.onFamily("saturation", { saturation })} />
      <NumberRow label="Lightness" value={family.lightness ?? 0} min={-50} max={50} initial={0} signed onDrag={(lightness) => p.onDrag({ lightness })} onRest={(lightness) => p.onFamily("lightness", { lightness })} />
      <Flow $gap={6} $wrap>
        <Button isDisabled={!reset} onPress={() => p.onPart(`reset ${part.name}`, { target: {}, family: { ...family, hue: undefined, saturation: undefined, lightness: undefined, how: undefined } })}>Reset this family</Button>
        <Button onPress={p.onKeepColour}>{part.target.css && !part.target.palette_id ? "Add target to palette" : "Add main colour to palette"}</Button>
      </Flow>
      <Heading>Made of</Heading>
      <Members list={family.members} main={family.main} members={members} others={others} onMembers={p.onMembers} onMove={p.onMove} onPick={p.onPick} />
      <Small>Drag a member onto another family to move it there. The underlined one stands for the family.</Small>
    </Face>
  );
});
