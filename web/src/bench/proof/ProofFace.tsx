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
      <output>{p.value}</output>
      <p data-goes={goes || undefined}>{p.what}</p>
      {goes && <Button $kind="quiet" aria-label={`Go to: ${p.name}`} onPress={() => p.onGo?.(x, y)}>Go to</Button>}
      {p.children}
    </Row>
  );
}

/** What speaks against a result, beside its colour: only what there is of it. */
function spoiled(proof: PartProof) {
  return [
    { name: "Burned", percent: proof.burned_percent ?? 0, what: "Pixels that are white now and were not. At most 1 % is let pass." },
    { name: "Crushed", percent: proof.crushed_percent ?? 0, what: "Pixels that are black now and were not. At most 1 % is let pass." },
    { name: "Tinted", percent: proof.tinted_percent ?? 0, what: "Pixels with a tint that a nearly neutral target does not have. At most 5 % is let pass." },
    { name: "Held back", percent: proof.held_percent ?? 0, what: "Left as it was, since it does not have the part’s colours. At most 25 % is let pass." },
  ].filter((s) => s.percent >= 0.05);
}

const verdict = {
  within: "The part meets its tolerance.",
  outside: "The part is outside its tolerance.",
  unreachable: "This target cannot be reached in the picture's colour space.",
  "as it is": "The part is left as it is; there is nothing to prove.",
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
  if (!part || !proof) return <Face><Notice>Nothing to prove yet. Isolate a part and give it a colour.</Notice>{mending}</Face>;
  const painted = proof.delta_e00 !== undefined;
  const places = close?.places ?? [];
  const specks = close?.specks ?? [];
  return (
    <Face>
      <Said>{verdict[proof.state]}</Said>
      {painted && (
        <div>
          <Figure name="Over the lit tones" value={`${proof.lit_median?.toFixed(1)} · ${proof.lit_p95?.toFixed(1)}`} what={`Median and 95th percentile, CIEDE2000, against what the light at each place makes of the target. The tolerance is ${proof.tolerance.toFixed(1)}; the second may be three times that.`} />
          {spoiled(proof).map((s) => <Figure key={s.name} name={s.name} value={`${s.percent.toFixed(1)} %`} what={s.what} />)}
          <Figure name="Difference at the match point" value={proof.delta_e00?.toFixed(2) ?? ""} what={`CIEDE2000 between target and result; nought or nearly so where the original colour is estimated. D50, Bradford.`} at={proof.at} onGo={p.onGo} />
          <Figure name="Target" value={lab(proof.want)} what={part.target.neutral ? `In this picture’s light it is ${proof.aim_hex}.` : "It is the colour as it shall look here."} />
          <Figure name="Result" value={lab(proof.got)} what={proof.state === "unreachable" ? `The nearest colour that can be reached is ${proof.nearest_hex}, ${proof.beyond?.toFixed(1)} from the target.` : "At the match point."} />
          <Figure name="Out of gamut" value={`${proof.out_of_gamut_percent?.toFixed(1)} %`} what="Pixels of the part that were brought back into the gamut, at constant hue." at={proof.gamut_at} onGo={p.onGo} />
          <Figure name="Clipped" value={`${proof.clipped_percent?.toFixed(1)} %`} what="Pixels of the part that are pure white now: their texture is gone." at={proof.clipped_at} onGo={p.onGo} />
          <Figure name="Old colour left" value={close ? `${close.left_pixels} px` : "…"} what={places.length > 0 ? "Pixels at the edge that the mask left out, largest place first." : "Pixels at the edge that the mask left out."}>
            {places.length > 0 && (
              <>
                <ol aria-label="Places where the old colour is left">
                  {places.map((q, i) => (
                    <li key={i}>
                      <span className="num">x {q.x} y {q.y} · {q.pixels} px</span>
                      <Button $kind="quiet" onPress={() => p.onGo(q.x, q.y)} aria-label={`Go to place ${i + 1}`}>Go to</Button>
                      <Button $kind="quiet" onPress={() => p.mend.edge(q)} aria-label={`Mend place ${i + 1}`}>Mend</Button>
                    </li>
                  ))}
                </ol>
                <Across><Button onPress={() => p.mend.edge()}>Mend all</Button></Across>
              </>
            )}
          </Figure>
          {proof.ink && <Figure name="Missed by the inks" value={`${proof.ink.missed_percent.toFixed(1)} %`} what={proof.ink.beyond > 2 ? `Pixels that the job’s inks miss by more than ΔE 2. The nearest to the target that they reach is ${proof.ink.nearest_hex}, ${lab(proof.ink.nearest)}, ${proof.ink.beyond.toFixed(1)} away.` : `Pixels that the job’s inks miss by more than ΔE 2. They reach the target; on white paper it is ${proof.ink.nearest_hex}.`} at={proof.ink.at} onGo={p.onGo} />}
          {proof.cast !== undefined && <Figure name="Cast on the neighbours" value={`${Math.round(100 * proof.cast)} %`} what="The strongest tint of the old colour beside the part, which is turned now." at={proof.cast_at} onGo={p.onGo} />}
          <Figure name="Detail kept" value={close ? close.detail_kept.toFixed(2) : "…"} what="How fine light and dark before and after go together: 1 is all of it." />
          <Figure name="Specks" value={close ? `${specks.length}` : "…"} what="Areas of the mask, and holes in it, too small to be meant.">
            {specks.length > 0 && (
              <ol aria-label="Specks of the mask">
                {specks.map((q, i) => (
                  <li key={i}>
                    <span className="num">x {q.x} y {q.y} · {q.pixels} px</span>
                    <Button $kind="quiet" onPress={() => p.onGo(q.x, q.y, 4)} aria-label={`Go to speck ${i + 1}`}>Go to</Button>
                  </li>
                ))}
              </ol>
            )}
            {specks.length > 0 && <Across><Button onPress={() => p.onPart("drop specks, fill holes", { edge: { ...part.edge, drop_specks_under: Math.max(60, part.edge?.drop_specks_under ?? 0), fill_holes_under: Math.max(60, part.edge?.fill_holes_under ?? 0) } })}>Drop and fill all</Button></Across>}
          </Figure>
          <Figure name="Changed outside" value={`${p.outside ?? 0} px`} what="Pixels in no part that differ from the picture as it came in, casts and mends left out. It must be 0." />
        </div>
      )}
      {painted && (
        <>
          <Heading>Match point</Heading>
          <Calm>
            {part.match ? `At x ${Math.round(part.match[0] ?? 0)}, y ${Math.round(part.match[1] ?? 0)} the result equals the target.` : "The part's typical lit tone equals the target."}
          </Calm>
          <Flow as="span" $gap={6}>
            <Button onPress={() => p.onTool(p.tool === "match" ? "none" : "match")} aria-pressed={p.tool === "match"}>{p.tool === "match" ? "Click the picture" : "Put it elsewhere"}</Button>
            {part.match && <Button onPress={() => p.onPart("typical lit tone", { match: undefined })}>Typical lit tone</Button>}
          </Flow>
        </>
      )}
      {mending}
      <CompareBox part={part} parts={p.parts} picture={p.picture} proof={proof} all={p.all} onPart={p.onPart} />
    </Face>
  );
}
