import { useState } from "react";
import type { Finish, Settings } from "../../api/client";
import { Button, Heading, Segmented } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Select, Small } from "../../look/Field";
import { ColourField, Line } from "./ColourField";
import { CurveEditor } from "./CurveEditor";
import styled from "styled-components";
import * as words from "../../words/colour";

const Wide = styled.div`grid-column: 2 / -1;`;

type Method = NonNullable<Settings["method"]>;

const plain: Finish = { black: 0, middle: 1, white: 255, out_black: 0, out_white: 255, exposure: 0, highlights: 0, shadows: 0, saturation: 0, vibrance: 0, blend_mode: "" };
const modes = ["normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity"];

interface Props {
  settings: Settings;
  /** The strength past which the photo has nothing as vivid. */
  vivid?: number;
  /** How often the part has each value: 64 bins each of all, red, green and blue. */
  values?: number[];
  onDrag: (s: Settings) => void;
  onRest: (label: string, s: Settings) => void;
}

/** The ways to recolour, each with its hands, and the finish over any of them. */
export function Methods({ settings: s, vivid, values, onDrag, onRest }: Props) {
  const method: Method = s.method ?? "repaint";
  const [finishing, setFinishing] = useState(!!s.finish);
  const hand = (label: string, value: number, min: number, max: number, initial: number, put: (v: number) => Settings, extra?: { signed?: boolean; unit?: string; step?: number; mark?: number }) => (
    <NumberRow key={label} label={label} value={value} min={min} max={max} initial={initial} {...extra} onDrag={(v) => onDrag(put(v))} onRest={(v) => onRest(label.toLowerCase(), put(v))} />
  );
  const turn = s.turn ?? { hue: 0, saturation: 0, lightness: 0 };
  const two = s.two_tone ?? { dark: "", middle: 50 };
  const finish = s.finish ?? plain;
  const done = (label: string, key: Exclude<keyof Finish, "blend_mode">, min: number, max: number, extra?: { signed?: boolean; step?: number; unit?: string }) =>
    hand(label, finish[key], min, max, plain[key], (v) => ({ ...s, finish: { ...finish, [key]: v } }), extra);
  return (
    <>
      <div>
        <Segmented small label={words.wayToRecolour} value={method} onChange={(m) => onRest(words.methodM(m), { ...s, method: m === "repaint" ? undefined : m })} options={[["repaint", words.repaint], ["turn-hue", words.turnHue], ["two-tone", words.twoTone], ["curves", words.curves]]} />
      </div>
      {method === "repaint" && (
        <>
          {hand(words.shadeDepth, s.shade_depth, -100, 100, 0, (v) => ({ ...s, shade_depth: v }), { signed: true })}
          {hand(words.highlights, s.highlights, 0, 200, 100, (v) => ({ ...s, highlights: v }), { unit: "%" })}
          <Line>
            <span>{words.severalTones}</span>
            <Wide><Segmented small label={words.severalTones} value={s.inner ?? "plain"} onChange={(v) => onRest(v === "plain" ? words.tonesAsTheyCome : v === "flat" ? words.oneTone : words.tonesKeptApart, { ...s, inner: v === "plain" ? undefined : v })} options={[["plain", words.keep], ["flat", words.merge], ["keep", words.separate]]} /></Wide>
                      </Line>
        </>
      )}
      {method === "turn-hue" && (
        <>
          {hand(words.hue, turn.hue, -180, 180, 0, (v) => ({ ...s, turn: { ...turn, hue: v } }), { signed: true, unit: "°" })}
          {hand(words.saturation, turn.saturation, -100, 100, 0, (v) => ({ ...s, turn: { ...turn, saturation: v } }), { signed: true, unit: "%" })}
          {hand(words.lightness, turn.lightness, -100, 100, 0, (v) => ({ ...s, turn: { ...turn, lightness: v } }), { signed: true })}
          {turn.saturation > 20 && <Small>{words.past20ColoursBeginToBreak}</Small>}
          {turn.lightness !== 0 && <Small>{words.lightnessInsideAHardMaskMakes}</Small>}
        </>
      )}
      {method === "two-tone" && (
        <>
          <Line>
            <span>{words.darkEnd}</span>
            <ColourField label={words.colourOfTheDarkEnd} value={two.dark} placeholder={words.theTargetsHueDeep} onDrag={(dark) => onDrag({ ...s, two_tone: { ...two, dark } })} onColour={(dark) => onRest(words.darkEndLow, { ...s, two_tone: { ...two, dark } })} onClear={() => onRest(words.linkedDarkEnd, { ...s, two_tone: { ...two, dark: "" } })} />
            <span />
          </Line>
          {hand(words.middle, two.middle, 1, 99, 50, (v) => ({ ...s, two_tone: { ...two, middle: v } }))}
          <Small>{words.theTargetGovernsTheLightEnd}</Small>
        </>
      )}
      {method === "curves" && <CurveEditor curves={s.curves ?? {}} values={values} onDrag={(c) => onDrag({ ...s, curves: c })} onRest={(label, c) => onRest(label, { ...s, curves: c })} />}
      {hand(words.strength, s.strength, 0, 100, 100, (v) => ({ ...s, strength: v }), { unit: "%", mark: vivid })}
      {vivid !== undefined && s.strength > vivid + 0.5 && <Small>{words.pastTheMarkAtVividNothing(Math.round(vivid))}</Small>}
      <Heading>{words.finish}</Heading>
      <Toggle on={finishing} onChange={(on) => { setFinishing(on); if (!on && s.finish) onRest(words.noFinish, { ...s, finish: undefined }); }}>{words.brightnessSaturationAndBlendingOverThe}</Toggle>
      {finishing && (
        <>
          {done(words.exposure, "exposure", -3, 3, { signed: true, step: 0.05 })}
          {done(words.brightTones, "highlights", -100, 100, { signed: true })}
          {done(words.darkTones, "shadows", -100, 100, { signed: true })}
          {done(words.blackPoint, "black", 0, 254)}
          {done(words.middle, "middle", 0.1, 4, { step: 0.05 })}
          {done(words.whitePoint, "white", 1, 255)}
          {done(words.darkest, "out_black", 0, 255)}
          {done(words.lightest, "out_white", 0, 255)}
          {done(words.colourfulness, "saturation", -100, 100, { signed: true })}
          {done(words.vibrance, "vibrance", -100, 100, { signed: true })}
          <Line>
            <span>{words.blendMode}</span>
            <Select aria-label={words.blendMode} value={finish.blend_mode || "normal"} onChange={(e) => onRest(words.blendValue(e.target.value), { ...s, finish: { ...finish, blend_mode: e.target.value === "normal" ? "" : e.target.value } })}>
              {modes.map((m) => <option key={m}>{m}</option>)}
            </Select>
          </Line>
          {s.finish && <Button onPress={() => onRest(words.resetFinish, { ...s, finish: undefined })}>{words.resetTheFinish}</Button>}
        </>
      )}
    </>
  );
}
