import styled from "styled-components";
import type { Close, Part, PartProof, Settings, Swatch } from "../api/client";
import { Button, Heading, Notice } from "../look/controls";
import { ColourField, Line } from "./colour/ColourField";
import { Methods } from "./colour/Methods";
import { Disc, Ribbon } from "../look/Disc";
import type { Tool } from "./Stage";

export const Face = styled.div`
  position: relative;
  padding: 12px 14px 20px;
  display: grid;
  gap: 11px;
  grid-auto-rows: max-content;
  align-content: start;
  overflow: auto;
  min-height: 0;
  flex: 1;
`;
const Ends = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin-top: -5px;
  > :last-child { text-align: right; }
`;
const Swatches = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin-left: -5px;
`;
const SwatchButton = styled(Button)<{ $on: boolean }>`
  border: 1.5px solid ${(p) => (p.$on ? "var(--ink)" : "transparent")};
  background: none;
  border-radius: 22px;
  padding: 0;
  display: grid;
`;
const lab = (v?: number[]) => (v ? `Lab ${v.map((n) => Math.round(n)).join(" ").replaceAll("-", "−")}` : "—");

/** Colour: what the part at hand becomes. */
export function Colour(p: {
  part?: Part;
  proof?: PartProof;
  palette: Swatch[];
  tool: Tool;
  onTool: (t: Tool) => void;
  onPart: (label: string, change: Partial<Part>) => void;
  onDrag: (s: Settings) => void;
}) {
  const { part, proof } = p;
  if (!part) return <Face><Notice>No part yet. Under Isolate, drag inside the thing whose colour shall change.</Notice></Face>;
  const named = p.palette.find((s) => s.id === part.target.palette_id);
  return (
    <Face>
      <Ribbon from={proof?.own_hex ?? "#9a9a9a"} to={proof?.want_hex} />
      <Ends>
        <div>
          <b>In the picture</b>
          <br />
          <span className="num">{proof && proof.share > 0 ? lab(proof.own) : "nothing selected"}</span>
        </div>
        <div>
          <b>{named?.name ?? (part.target.css ? "Typed" : "Left as it is")}</b>
          <br />
          <span className="num">{part.target.css ? lab(proof?.want) : ""}</span>
        </div>
      </Ends>
      <Swatches role="group" aria-label="Colours of the palette">
        {p.palette.map((c) => (
          <SwatchButton key={c.id} $on={named?.id === c.id} aria-label={c.name} aria-pressed={named?.id === c.id} onPress={() => p.onPart(`colour ${c.name}`, { target: { css: c.css, palette_id: c.id, tolerance: c.tolerance } })}>
            <Disc from={c.hex ?? "#888"} size={26} />
          </SwatchButton>
        ))}
      </Swatches>
      <Line>
        <span>Target</span>
        <ColourField label="Target colour" value={part.target.css ?? ""} placeholder="#1d6a72, lab(41 -21 -9) …" onColour={(css) => p.onPart("typed colour", { target: { css, tolerance: part.target.tolerance } })} onClear={() => p.onPart("leave as it is", { target: {} })} />
        <Button $kind="quiet" onPress={() => p.onTool(p.tool === "sample" ? "none" : "sample")} aria-pressed={p.tool === "sample"}>
          {p.tool === "sample" ? "Click the picture" : "Sample"}
        </Button>
      </Line>
      <Line>
        <span>Known own colour</span>
        <ColourField label="Own colour of the thing" value={part.own ?? ""} placeholder="estimated" onColour={(own) => p.onPart("own colour", { own })} onClear={() => p.onPart("estimate own colour", { own: undefined })} />
        <span />
      </Line>
      <Methods settings={part.settings} onDrag={p.onDrag} onRest={(label, settings) => p.onPart(label, { settings })} />
      {part.target.css && proof?.delta_e00 !== undefined && (
        <Read>
          <Figure label="Match point" value={proof.delta_e00.toFixed(1)} unit="ΔE₀₀" />
          <Figure label="Clipped" value={(proof.clipped_percent ?? 0).toFixed(1)} unit="%" />
          <Figure label="Out of gamut" value={(proof.out_of_gamut_percent ?? 0).toFixed(1)} unit="%" />
        </Read>
      )}
      {part.target.css && (
        <Button onPress={() => p.onPart("leave as it is", { target: {} })}>Leave this part as it is</Button>
      )}
    </Face>
  );
}

const Read = styled.div`
  border: 1px solid var(--rule);
  border-radius: 9px;
  background: #fff;
  padding: 9px 11px;
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 4px 10px;
  small { color: var(--ink3); display: block; }
  b { font: 600 15px var(--figures); }
`;

function Figure(p: { label: string; value: string; unit: string }) {
  return (
    <span>
      <small>{p.label}</small>
      <b>{p.value}</b> <span className="num">{p.unit}</span>
    </span>
  );
}

const Measure = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 10px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
  b { font-weight: 600; }
  output { font: 600 14px var(--figures); text-align: right; }
  p { grid-column: 1 / 3; color: var(--ink3); font-size: 12px; }
`;

const verdict = {
  within: "The part meets its tolerance.",
  outside: "The part is outside its tolerance.",
  unreachable: "This target cannot be reached in the picture's colour space.",
  "as it is": "The part is left as it is; there is nothing to prove.",
} as const;

/** Proof: the measurements of the part at hand. */
export function ProofFace(p: { part?: Part; proof?: PartProof; outside?: number; close?: Close; onGo: (x: number, y: number) => void; tool: Tool; onTool: (t: Tool) => void; onPart: (label: string, change: Partial<Part>) => void }) {
  const { part, proof } = p;
  if (!part || !proof) return <Face><Notice>Nothing to prove yet. Isolate a part and give it a colour.</Notice></Face>;
  const painted = proof.delta_e00 !== undefined;
  return (
    <Face>
      <p style={{ fontWeight: 600 }}>{verdict[proof.state]}</p>
      {painted && (
        <div>
          <Measure>
            <b>Difference at the match point</b>
            <output>{proof.delta_e00?.toFixed(2)}</output>
            <p>CIEDE2000 between target and result; the tolerance is {proof.tolerance.toFixed(1)}. D50, Bradford.</p>
          </Measure>
          <Measure>
            <b>Target</b>
            <output>{lab(proof.want)}</output>
            {proof.state === "unreachable" && <p>It lies outside the picture’s colour space; the nearest colour inside is {proof.nearest_hex}.</p>}
          </Measure>
          <Measure>
            <b>Result</b>
            <output>{lab(proof.got)}</output>
          </Measure>
          <Measure>
            <b>Out of gamut</b>
            <output>{proof.out_of_gamut_percent?.toFixed(1)} %</output>
            <p>Pixels of the part that were brought back into the gamut, at constant hue.</p>
          </Measure>
          <Measure>
            <b>Clipped</b>
            <output>{proof.clipped_percent?.toFixed(1)} %</output>
            <p>Pixels of the part that are pure white now: their texture is gone.</p>
          </Measure>
          <Measure>
            <b>Old colour left</b>
            <output>{p.close ? `${p.close.left_pixels} px` : "…"}</output>
            <p>Pixels in and around the edge that only the old colour explains{p.close && p.close.places.length > 0 ? ", largest place first:" : "."}</p>
            {p.close && p.close.places.length > 0 && (
              <ol style={{ gridColumn: "1 / 3", listStyle: "none", margin: 0, padding: 0, maxHeight: 120, overflow: "auto" }} aria-label="Places where the old colour is left">
                {p.close.places.map((q, i) => (
                  <li key={i} style={{ display: "flex", alignItems: "center" }}>
                    <span className="num" style={{ flex: 1 }}>x {q.x} y {q.y} · {q.pixels} px</span>
                    <Button $kind="quiet" style={{ padding: "2px 6px" }} onPress={() => p.onGo(q.x, q.y)} aria-label={`Go to place ${i + 1}`}>Go to</Button>
                  </li>
                ))}
              </ol>
            )}
          </Measure>
          <Measure>
            <b>Detail kept</b>
            <output>{p.close ? p.close.detail_kept.toFixed(2) : "…"}</output>
            <p>How fine light and dark before and after go together: 1 is all of it.</p>
          </Measure>
          <Measure>
            <b>Changed outside</b>
            <output>{p.outside ?? 0} px</output>
            <p>Pixels in no part that differ from the picture as it came in. It must be 0.</p>
          </Measure>
        </div>
      )}
      {painted && (
        <>
          <Heading>Match point</Heading>
          <p style={{ color: "var(--ink2)" }}>
            {part.match ? `At x ${Math.round(part.match[0] ?? 0)}, y ${Math.round(part.match[1] ?? 0)} the result equals the target.` : "The part's typical lit tone equals the target."}
          </p>
          <span style={{ display: "flex", gap: 6 }}>
            <Button onPress={() => p.onTool(p.tool === "match" ? "none" : "match")} aria-pressed={p.tool === "match"}>{p.tool === "match" ? "Click the picture" : "Put it elsewhere"}</Button>
            {part.match && <Button onPress={() => p.onPart("typical lit tone", { match: undefined })}>Typical lit tone</Button>}
          </span>
        </>
      )}
    </Face>
  );
}

