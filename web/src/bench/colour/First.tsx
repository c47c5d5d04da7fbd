import type { Rebuild, Settings } from "../../api/client";
import { Button, Heading } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Small } from "../../look/Field";
import type { Tool } from "../stage/tools";
import { Flow } from "../../look/layout";
import * as words from "../../words/colour";

const fresh: Rebuild = { amount: 100, light: 90, slope: 0, grain: 100 };

interface Props {
  settings: Settings;
  tool: Tool;
  onTool: (t: Tool) => void;
  onDrag: (s: Settings) => void;
  onRest: (label: string, s: Settings) => void;
}

/** What is done to a part before it is recoloured: mixed tints evened out, and what clipped rebuilt. */
export function First({ settings: s, tool, onTool, onDrag, onRest }: Props) {
  const r = s.rebuild;
  const hand = (label: string, key: "amount" | "light" | "slope" | "grain", min: number, max: number, unit: string) =>
    r && (
      <NumberRow label={label} value={r[key]} min={min} max={max} initial={fresh[key]} unit={unit} onDrag={(v) => onDrag({ ...s, rebuild: { ...r, [key]: v } })} onRest={(v) => onRest(label.toLowerCase(), { ...s, rebuild: { ...r, [key]: v } })} />
    );
  const even = (v: number) => ({ ...s, even: v || undefined });
  return (
    <>
      <Heading>{words.beforeItIsRecoloured}</Heading>
      <NumberRow label={words.evenOut} value={s.even ?? 0} min={0} max={100} initial={0} unit="%" onDrag={(v) => onDrag(even(v))} onRest={(v) => onRest(words.evenOutLow, even(v))} />
      <Toggle on={!!r} onChange={(on) => onRest(on ? words.rebuildWhatClipped : words.doNotRebuild, { ...s, rebuild: on ? fresh : undefined })}>{words.rebuildWhatTheLightBurnedOut}</Toggle>
      {r && (
        <>
          {hand(words.rebuilt, "amount", 0, 100, "%")}
          {hand(words.grain, "grain", 0, 200, "%")}
          {hand(words.slope, "slope", 0, 100, "%")}
          {r.slope > 0 && hand(words.lightFrom, "light", -180, 180, "°")}
          <Flow as="span" $gap={6}>
            <Button aria-pressed={tool === "away"} $held={tool === "away"} onPress={() => onTool(tool === "away" ? "none" : "away")}>{tool === "away" ? words.brushOnThePicture : words.brushItAway}</Button>
            {!!r.away?.length && <Button $kind="quiet" onPress={() => onRest(words.rebuildEverywhere, { ...s, rebuild: { ...r, away: undefined } })}>{words.bringItBack}</Button>}
          </Flow>
          <Small>{words.theBodysLightAndGrainGo}</Small>
        </>
      )}
    </>
  );
}
