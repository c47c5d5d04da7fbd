import type { ReactNode } from "react";
import styled from "styled-components";
import type { Close, Mend, Part, PartProof, Picture, Proof } from "../../api/client";
import { Button, Heading, Notice } from "../../look/controls";
import { Face } from "../../look/Face";
import { lab } from "../figures";
import type { Tool } from "../stage/tools";
import type { Patching } from "../patch/usePatch";
import type { Mending } from "../useMend";
import { CompareBox } from "./CompareBox";
import { MendBox } from "./MendBox";
import { Calm, Flow } from "../../look/layout";
import * as words from "../../words/proof";

const Said = styled.p`font-weight: 600;`;
const Across = styled.span`grid-column: 1 / 3; margin-top: 4px;`;

const Row = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 10px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
  b { font-weight: 600; }
  output { font: 600 14px var(--figures); text-align: right; }
  p { color: var(--ink3); font-size: 12px; }
  p { grid-column: 1 / 3; }
  p[data-goes] { grid-column: 1; }
  > button { padding: 0 6px; justify-self: end; align-self: start; }
  ol { grid-column: 1 / 3; list-style: none; margin: 2px 0 0; padding: 0; max-height: 124px; overflow: auto; }
  li { display: flex; align-items: center; }
  li > span { flex: 1; }
  li button { padding: 2px 6px; }
`;

/** One figure of the proof: what it is, what it means in one line, and the way to its place. */
function Figure(p: { name: string; value: string; what: string; at?: number[]; onGo?: (x: number, y: number, zoom?: number) => void; children?: ReactNode }) {
  const [x, y] = p.at ?? [];
  const goes = p.onGo && x !== undefined && y !== undefined;
  return (
    <Row>
      <b>{p.name}</b>
      <output data-measured>{p.value}</output>
      <p data-goes={goes || undefined}>{p.what}</p>
      {goes && <Button $kind="quiet" aria-label={words.goToName(p.name)} onPress={() => p.onGo?.(x, y)}>{words.goTo}</Button>}
      {p.children}
    </Row>
  );
}

/** What speaks against a result, beside its colour: only what there is of it. */
function spoiled(proof: PartProof) {
  return [
    { name: words.burned, percent: proof.burned_percent ?? 0, what: words.pixelsThatAreWhiteNowAnd },
    { name: words.crushed, percent: proof.crushed_percent ?? 0, what: words.pixelsThatAreBlackNowAnd },
    { name: words.tinted, percent: proof.tinted_percent ?? 0, what: words.pixelsWithATintThatA },
    { name: words.heldBack, percent: proof.held_percent ?? 0, what: words.leftAsItWasSinceIt },
  ].filter((s) => s.percent >= 0.05);
}

const verdict = {
  within: words.thePartMeetsItsTolerance,
  outside: words.thePartIsOutsideItsTolerance,
  unreachable: words.thisTargetCannotBeReachedIn,
  "as it is": words.thePartIsLeftAsIt,
} as const;

interface Props {
  part?: Part;
  parts: Part[];
  picture: Picture;
  proof?: PartProof;
  all?: Proof;
  close?: Close;
  outside?: number;
  mends: Mend[];
  mend: Mending;
  patching: Patching;
  tool: Tool;
  onTool: (t: Tool) => void;
  onGo: (x: number, y: number, zoom?: number) => void;
  onPart: (label: string, change: Partial<Part>) => void;
}

/** Proof: the measurements of the part at hand, and what mends it. */
export function ProofFace(p: Props) {
  const { part, proof, close } = p;
  const mending = <MendBox mends={p.mends} unfilled={p.all?.unfilled} parts={p.parts} mend={p.mend} patching={p.patching} size={p.picture} tool={p.tool} onTool={p.onTool} />;
  if (!part || !proof) return <Face><Notice>{words.nothingToProveYetIsolateA}</Notice>{mending}</Face>;
  const painted = proof.delta_e00 !== undefined;
  const places = close?.places ?? [];
  const specks = close?.specks ?? [];
  return (
    <Face>
      <Said data-measured>{verdict[proof.state]}</Said>
      {painted && (
        <div>
          <Figure name="Over the lit tones" value={`${proof.lit_median?.toFixed(1)} · ${proof.lit_p95?.toFixed(1)}`} what={words.medianAnd95thPercentileCiede2000Against(proof.tolerance.toFixed(1))} />
          {spoiled(proof).map((s) => <Figure key={s.name} name={s.name} value={`${s.percent.toFixed(1)} %`} what={s.what} />)}
          <Figure name="Difference at the match point" value={proof.delta_e00?.toFixed(2) ?? ""} what={words.ciede2000BetweenTargetAndResultNought} at={proof.at} onGo={p.onGo} />
          <Figure name="Target" value={lab(proof.want)} what={part.target.neutral ? words.inThisPicturesLightItIs(proof.aim_hex ?? "") : words.itIsTheColourAsIt} />
          <Figure name="Result" value={lab(proof.got)} what={proof.state === "unreachable" ? words.theNearestColourThatCanBe(proof.nearest_hex ?? "", proof.beyond?.toFixed(1) ?? "") : words.atTheMatchPoint} />
          <Figure name="Out of gamut" value={`${proof.out_of_gamut_percent?.toFixed(1)} %`} what={words.pixelsOfThePartThatWere} at={proof.gamut_at} onGo={p.onGo} />
          <Figure name="Clipped" value={`${proof.clipped_percent?.toFixed(1)} %`} what={words.pixelsOfThePartThatAre} at={proof.clipped_at} onGo={p.onGo} />
          <Figure name="Old colour left" value={close ? words.leftPixelsPx(close.left_pixels) : "…"} what={places.length > 0 ? words.pixelsAtTheEdgeThatThe : words.pixelsAtTheEdgeThatTheHigh}>
            {places.length > 0 && (
              <>
                <ol aria-label={words.placesWhereTheOldColourIs}>
                  {places.map((q, i) => (
                    <li key={i}>
                      <span className="num">{words.placeAndPixels(q.x, q.y, q.pixels)}</span>
                      <Button $kind="quiet" onPress={() => p.onGo(q.x, q.y)} aria-label={words.goToPlaceNumber(i + 1)}>{words.goTo}</Button>
                      <Button $kind="quiet" onPress={() => p.mend.edge(q)} aria-label={words.mendPlaceNumber(i + 1)}>{words.mend}</Button>
                    </li>
                  ))}
                </ol>
                <Across><Button onPress={() => p.mend.edge()}>{words.mendAll}</Button></Across>
              </>
            )}
          </Figure>
          {proof.ink && <Figure name="Missed by the inks" value={`${proof.ink.missed_percent.toFixed(1)} %`} what={proof.ink.beyond > 2 ? words.pixelsThatTheJobsInksMiss(proof.ink.nearest_hex, lab(proof.ink.nearest), proof.ink.beyond.toFixed(1)) : words.pixelsThatTheJobsInksMissNamed(proof.ink.nearest_hex)} at={proof.ink.at} onGo={p.onGo} />}
          {proof.cast !== undefined && <Figure name="Cast on the neighbours" value={`${Math.round(100 * proof.cast)} %`} what={words.theStrongestTintOfTheOld} at={proof.cast_at} onGo={p.onGo} />}
          <Figure name="Detail kept" value={close ? close.detail_kept.toFixed(2) : "…"} what={words.howFineLightAndDarkBefore} />
          <Figure name="Specks" value={close ? `${specks.length}` : "…"} what={words.areasOfTheMaskAndHoles}>
            {specks.length > 0 && (
              <ol aria-label={words.specksOfTheMask}>
                {specks.map((q, i) => (
                  <li key={i}>
                    <span className="num">{words.placeAndPixels(q.x, q.y, q.pixels)}</span>
                    <Button $kind="quiet" onPress={() => p.onGo(q.x, q.y, 4)} aria-label={words.goToSpeckNumber(i + 1)}>{words.goTo}</Button>
                  </li>
                ))}
              </ol>
            )}
            {specks.length > 0 && <Across><Button onPress={() => p.onPart(words.dropSpecksFillHoles, { edge: { ...part.edge, drop_specks_under: Math.max(60, part.edge?.drop_specks_under ?? 0), fill_holes_under: Math.max(60, part.edge?.fill_holes_under ?? 0) } })}>{words.dropAndFillAll}</Button></Across>}
          </Figure>
          <Figure name="Changed outside" value={words.outsidePx(p.outside ?? 0)} what={words.pixelsInNoPartThatDiffer} />
        </div>
      )}
      {painted && (
        <>
          <Heading>{words.matchPoint}</Heading>
          <Calm>
            {part.match ? words.atXMatchYMatch2The(Math.round(part.match[0] ?? 0), Math.round(part.match[1] ?? 0)) : words.thePartsTypicalLitToneEquals}
          </Calm>
          <Flow as="span" $gap={6}>
            <Button onPress={() => p.onTool(p.tool === "match" ? "none" : "match")} aria-pressed={p.tool === "match"} $held={p.tool === "match"}>{p.tool === "match" ? words.clickThePicture : words.putItElsewhere}</Button>
            {part.match && <Button onPress={() => p.onPart(words.typicalLitTone, { match: undefined })}>{words.typicalLitToneHigh}</Button>}
          </Flow>
        </>
      )}
      {mending}
      <CompareBox part={part} parts={p.parts} picture={p.picture} proof={proof} all={p.all} onPart={p.onPart} />
    </Face>
  );
}
