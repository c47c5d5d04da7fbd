import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, unwrap, type Part, type Grey, type PartProof, type Recipe, type Swatch } from "../../api/client";
import { keyOf } from "../../api/identity";
import { Button, Notice, Segmented } from "../../look/controls";
import { Disc, Ribbon } from "../../look/Disc";
import { Face } from "../../look/Face";
import { later } from "../../look/later";
import { still } from "../../look/still";
import { Ends, SwatchButton, Swatches } from "../../look/Swatches";
import { lab } from "../figures";
import { PatternBox } from "../pattern/PatternBox";
import { RecipeLine } from "../recipes/RecipeLine";
import { recipeOf } from "../recipes/recipes";
import type { Tool } from "../stage/tools";
import { CastBox } from "./CastBox";
import { ColourField, Line } from "./ColourField";
import { First } from "./First";
import { GreyLine } from "./GreyLine";
import { Methods } from "./Methods";
import { OnlyOwn } from "./OnlyOwn";
import { isRelative } from "./relative";
import * as words from "../../words/colour";

const MeasureDialog = later(() => import("../../reader/MeasureDialog").then((m) => m.MeasureDialog));

const StillButton = still(Button);

/** Colour: what the part at hand becomes. */
export function ColourFace(p: {
  picture: string;
  part?: Part;
  proof?: PartProof;
  palette: Swatch[];
  job: string;
  /** The picture's grey card. */
  grey?: Grey;
  onGrey: (label: string, grey: Grey | undefined) => void;
  size: { id: string; width: number; height: number };
  /** Of the job. */
  pictures: { id: string; name: string }[];
  recipes: Recipe[];
  onRecipes: (label: string, how: (list: Recipe[]) => Recipe[]) => void;
  tool: Tool;
  onTool: (t: Tool) => void;
  onPart: (label: string, change: Partial<Part>) => void;
  onDrag: (change: Partial<Part>) => void;
}) {
  const { part, proof } = p;
  const [measuring, setMeasuring] = useState(false);
  const values = useQuery({
    queryKey: ["values", p.picture, part?.id, keyOf([part?.picks, part?.edge])],
    enabled: part?.settings.method === "curves",
    queryFn: () => unwrap(api.GET("/api/pictures/{picture}/histogram", { params: { path: { picture: p.picture }, query: { of: "values", part: part?.id } } })),
  });
  if (!part) return <Face><Notice>{words.noPartYetUnderIsolateDrag}</Notice></Face>;
  const named = p.palette.find((s) => s.id === part.target.palette_id);
  return (
    <Face>
      <div data-measured={named ? undefined : "colour"}>
        <Ribbon from={proof?.own_hex ?? "#9a9a9a"} to={part.target.css ? (named?.hex ?? proof?.want_hex) : undefined} />
      </div>
      <Ends>
        <div>
          <b>{words.inThePicture}</b>
          <br />
          <span className="num" data-measured>{proof && proof.share > 0 ? lab(proof.own) : words.nothingSelected}</span>
        </div>
        <div>
          <b>{named?.name ?? (!part.target.css ? words.leftAsItIs : isRelative(part.target.css) ? words.fromItsOwn : words.setHere)}</b>
          <br />
          <span className="num" data-measured={!named || undefined}>{part.target.css ? lab(named?.lab ?? proof?.want) : ""}</span>
        </div>
      </Ends>
      <Palette colours={p.palette} at={named?.id} onChoose={(c) => p.onPart(words.colourName(c.name), { target: { css: c.css, palette_id: c.id, tolerance: c.tolerance, neutral: part.target.neutral } })} />
      <Line>
        <span>{words.target}</span>
        <ColourField label={words.targetColour} value={part.target.css ?? ""} placeholder={words.n1d6a72Lab41219} relative own={proof?.own_hex} onDrag={(css) => p.onDrag({ target: { css, tolerance: part.target.tolerance, neutral: part.target.neutral } })} onColour={(css) => p.onPart(words.typedColour, { target: { css, tolerance: part.target.tolerance, neutral: part.target.neutral } })} onClear={() => p.onPart(words.leaveAsItIs, { target: {} })} />
        <StillButton $kind="quiet" onPress={() => p.onTool(p.tool === "sample" ? "none" : "sample")} aria-pressed={p.tool === "sample"} $held={p.tool === "sample"}>
          {p.tool === "sample" ? words.clickThePicture : words.sample}
        </StillButton>
      </Line>
      {part.target.css && (
        <Line>
          <span>{words.measuredAs}</span>
          <div>
            <Segmented small label={words.howTheTargetWasMeasured} value={part.target.neutral ? "neutral" : "here"} onChange={(v) => p.onPart(v === "neutral" ? words.measuredUnderNeutralLight : words.asItLooksHere, { target: { ...part.target, neutral: v === "neutral" || undefined } })} options={[["here", words.seenHere], ["neutral", words.neutralLight]]} />
          </div>
          <span />
        </Line>
      )}
      {part.target.css && part.target.neutral && <GreyLine picture={p.picture} grey={p.grey} tool={p.tool} onTool={p.onTool} onGrey={p.onGrey} />}
      <RecipeLine key={part.id} job={p.job} name={part.name} keeps={!!part.target.css} recipe={(name) => recipeOf(part, name, p.recipes)} own={p.recipes} onPart={p.onPart} onRecipes={p.onRecipes} />
      <Line>
        <span>{words.ownColour}</span>
        <ColourField label={words.ownColourOfTheThing} value={part.own ?? ""} placeholder={words.estimated} own={proof?.own_hex} onDrag={(own) => p.onDrag({ own })} onColour={(own) => p.onPart(words.ownColourLow, { own })} onClear={() => p.onPart(words.estimateOwnColour, { own: undefined })} />
        <StillButton $kind="quiet" aria-label={words.measureTheOwnColour} onPress={() => setMeasuring(true)}>{words.measure}</StillButton>
      </Line>
      {measuring && (
        <MeasureDialog open use={words.useAsItsOwnColour} onClose={() => setMeasuring(false)} onTake={(_, own) => p.onPart(words.ownColourAsMeasured, { own })} />
      )}
      <OnlyOwn settings={part.settings} onDrag={(settings) => p.onDrag({ settings })} onRest={(label, settings) => p.onPart(label, { settings })} />
      <Methods settings={part.settings} vivid={proof?.vivid_strength} values={values.data} onDrag={(settings) => p.onDrag({ settings })} onRest={(label, settings) => p.onPart(label, { settings })} />
      <First settings={part.settings} tool={p.tool} onTool={p.onTool} onDrag={(settings) => p.onDrag({ settings })} onRest={(label, settings) => p.onPart(label, { settings })} />
      <PatternBox key={`pattern ${part.id}`} pattern={part.pattern} target={part.target} copy={part.copy} picks={part.picks} own={proof?.own_hex} palette={p.palette} picture={p.size} pictures={p.pictures} tool={p.tool} onTool={p.onTool} onDrag={(pattern) => p.onDrag({ pattern })} onRest={(label, pattern) => p.onPart(label, { pattern })} />
      <CastBox cast={part.cast} proof={proof} onDrag={(cast) => p.onDrag({ cast })} onRest={(label, cast) => p.onPart(label, { cast })} />
      {part.target.css && proof?.delta_e00 !== undefined && (
        <Read>
          <Figure label={words.litTones} value={(proof.lit_median ?? proof.delta_e00).toFixed(1)} unit="ΔE₀₀" />
          <Figure label={words.clipped} value={(proof.clipped_percent ?? 0).toFixed(1)} unit="%" />
          <Figure label={words.outOfGamut} value={(proof.out_of_gamut_percent ?? 0).toFixed(1)} unit="%" />
        </Read>
      )}
      {part.target.css && (
        <StillButton onPress={() => p.onPart(words.leaveAsItIs, { target: {} })}>{words.leaveThisPartAsItIs}</StillButton>
      )}
    </Face>
  );
}

const Palette = still(function Palette(p: { colours: Swatch[]; at?: string; onChoose: (c: Swatch) => void }) {
  return (
    <Swatches role="group" aria-label={words.coloursOfThePalette}>
      {p.colours.map((c) => (
        <SwatchButton key={c.id} $on={p.at === c.id} aria-label={c.name} aria-pressed={p.at === c.id} onPress={() => p.onChoose(c)}>
          <Disc from={c.hex ?? "#888"} size={26} />
        </SwatchButton>
      ))}
    </Swatches>
  );
});

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
      <b data-measured>{p.value}</b> <span className="num">{p.unit}</span>
    </span>
  );
}

