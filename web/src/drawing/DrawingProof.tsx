import styled from "styled-components";
import type { Part, PartProof, ShownDrawing } from "../api/client";
import { Button, Heading, Notice } from "../look/controls";
import { Disc } from "../look/Disc";
import { Face } from "../look/Face";
import { Small } from "../look/Field";
import * as words from "../words/drawing";

const Sign = styled.span`width: 32px; text-align: center; font-weight: 700;`;
const Cut = styled.span`overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;

const Line = styled.li`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  padding: 3px 0;
`;
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
`;
const said: Record<PartProof["state"], string> = { "as it is": words.leftAsItIs, within: words.withinTolerance, outside: words.outsideTolerance, unreachable: words.cannotBeReached };

/** How the drawing's colours are measured: to their targets, to each other, and texts to their grounds. */
export function DrawingProof(p: { parts: Part[]; shown?: ShownDrawing; onGo: (element: number) => void }) {
  const s = p.shown;
  if (!s) return <Face><Notice>{words.measuring}</Notice></Face>;
  const painted = s.proofs.filter((q) => q.delta_e00 !== undefined);
  const texts = s.texts.filter((t) => t.is < (t.large ? 3 : 4.5) || Math.abs(t.is - t.was) > 0.05);
  return (
    <Face>
      <Heading>{words.toTheirTargets}</Heading>
      {painted.length === 0 && <Small>{words.noFamilyHasATargetYet}</Small>}
      <List>
        {painted.map((q) => (
          <Line key={q.id}>
            <Disc from={q.own_hex} to={q.want_hex} ring={q.state} size={22} />
            <span>{q.name}<br /><Small as="span">{said[q.state]}{q.state === "unreachable" && q.nearest_hex ? words.nearestReached(q.nearest_hex) : ""}</Small></span>
            <span className="num">{words.deltaEDeltaE00OfTolerance((q.delta_e00 ?? 0).toFixed(1), q.tolerance.toFixed(1))}</span>
          </Line>
        ))}
      </List>
      <Heading>{words.hardToTellApartNow}</Heading>
      {s.alike.length === 0 && <Small>{words.noTwoColoursThatLieOn}</Small>}
      <List>
        {s.alike.map((a) => (
          <Line key={`${a.a}${a.b}`}>
            <Disc from={a.a} to={a.b} size={22} />
            <span className="num">{a.a}, {a.b}<br />ΔE {a.was} → {a.is}</span>
            <Button onPress={() => p.onGo(a.element)}>{words.goTo}</Button>
          </Line>
        ))}
      </List>
      <Heading>{words.contrastOfTexts}</Heading>
      {texts.length === 0 && <Small>{s.texts.length === 0 ? words.theDrawingHasNoTexts : words.allTextsHaveTheContrastWcag}</Small>}
      <List>
        {texts.map((t) => (
          <Line key={t.element}>
            <Sign aria-hidden>{t.is < (t.large ? 3 : 4.5) ? "!" : "✓"}</Sign>
            <Cut>{t.text || words.text}<br /><Small as="span" className="num">{words.contrastAndWanted(t.was.toFixed(1), t.is.toFixed(1))}{t.large ? "3" : "4.5"}</Small></Cut>
            <Button onPress={() => p.onGo(t.element)}>{words.goTo}</Button>
          </Line>
        ))}
      </List>
    </Face>
  );
}
