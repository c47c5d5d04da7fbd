import { useState } from "react";
import type { Finish, Settings } from "../../api/client";
import { Button, Heading, NumberRow, Segmented, Toggle } from "../../look/controls";
import { Select, Small } from "../../look/Field";
import { ColourField, Line } from "./ColourField";
import { CurveEditor } from "./CurveEditor";
import styled from "styled-components";

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
        <Segmented small label="Way to recolour" value={method} onChange={(m) => onRest(`method ${m}`, { ...s, method: m === "repaint" ? undefined : m })} options={[["repaint", "Repaint"], ["turn-hue", "Turn hue"], ["two-tone", "Two-tone"], ["curves", "Curves"]]} />
      </div>
      {method === "repaint" && (
        <>
          {hand("Shade depth", s.shade_depth, -100, 100, 0, (v) => ({ ...s, shade_depth: v }), { signed: true })}
          {hand("Highlights", s.highlights, 0, 200, 100, (v) => ({ ...s, highlights: v }), { unit: "%" })}
          <Line>
            <span>Several tones</span>
            <Wide><Segmented small label="Several tones" value={s.inner ?? "plain"} onChange={(v) => onRest(v === "plain" ? "tones as they come" : v === "flat" ? "one tone" : "tones kept apart", { ...s, inner: v === "plain" ? undefined : v })} options={[["plain", "Keep"], ["flat", "Merge"], ["keep", "Separate"]]} /></Wide>
                      </Line>
        </>
      )}
      {method === "turn-hue" && (
        <>
          {hand("Hue", turn.hue, -180, 180, 0, (v) => ({ ...s, turn: { ...turn, hue: v } }), { signed: true, unit: "°" })}
          {hand("Saturation", turn.saturation, -100, 100, 0, (v) => ({ ...s, turn: { ...turn, saturation: v } }), { signed: true, unit: "%" })}
          {hand("Lightness", turn.lightness, -100, 100, 0, (v) => ({ ...s, turn: { ...turn, lightness: v } }), { signed: true })}
          {turn.saturation > 20 && <Small>Past +20 colours begin to break up and look unnatural.</Small>}
          {turn.lightness !== 0 && <Small>Lightness inside a hard mask makes its edge show.</Small>}
        </>
      )}
      {method === "two-tone" && (
        <>
          <Line>
            <span>Dark end</span>
            <ColourField label="Colour of the dark end" value={two.dark} placeholder="the target’s hue, deep" onDrag={(dark) => onDrag({ ...s, two_tone: { ...two, dark } })} onColour={(dark) => onRest("dark end", { ...s, two_tone: { ...two, dark } })} onClear={() => onRest("linked dark end", { ...s, two_tone: { ...two, dark: "" } })} />
            <span />
          </Line>
          {hand("Middle", two.middle, 1, 99, 50, (v) => ({ ...s, two_tone: { ...two, middle: v } }))}
          <Small>The target governs the light end.</Small>
        </>
      )}
      {method === "curves" && <CurveEditor curves={s.curves ?? {}} values={values} onDrag={(c) => onDrag({ ...s, curves: c })} onRest={(label, c) => onRest(label, { ...s, curves: c })} />}
      {hand("Strength", s.strength, 0, 100, 100, (v) => ({ ...s, strength: v }), { unit: "%", mark: vivid })}
      {vivid !== undefined && s.strength > vivid + 0.5 && <Small>Past the mark, at {Math.round(vivid)} %, nothing of a like colour in the photo is as vivid: it may stop looking photographed.</Small>}
      <Heading>Finish</Heading>
      <Toggle on={finishing} onChange={(on) => { setFinishing(on); if (!on && s.finish) onRest("no finish", { ...s, finish: undefined }); }}>Brightness, saturation and blending over the method</Toggle>
      {finishing && (
        <>
          {done("Exposure", "exposure", -3, 3, { signed: true, step: 0.05 })}
          {done("Bright tones", "highlights", -100, 100, { signed: true })}
          {done("Dark tones", "shadows", -100, 100, { signed: true })}
          {done("Black point", "black", 0, 254)}
          {done("Middle", "middle", 0.1, 4, { step: 0.05 })}
          {done("White point", "white", 1, 255)}
          {done("Darkest", "out_black", 0, 255)}
          {done("Lightest", "out_white", 0, 255)}
          {done("Colourfulness", "saturation", -100, 100, { signed: true })}
          {done("Vibrance", "vibrance", -100, 100, { signed: true })}
          <Line>
            <span>Blend mode</span>
            <Select aria-label="Blend mode" value={finish.blend_mode || "normal"} onChange={(e) => onRest(`blend ${e.target.value}`, { ...s, finish: { ...finish, blend_mode: e.target.value === "normal" ? "" : e.target.value } })}>
              {modes.map((m) => <option key={m}>{m}</option>)}
            </Select>
          </Line>
          {s.finish && <Button onPress={() => onRest("reset finish", { ...s, finish: undefined })}>Reset the finish</Button>}
        </>
      )}
    </>
  );
}
