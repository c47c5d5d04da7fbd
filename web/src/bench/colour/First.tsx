import type { Rebuild, Settings } from "../../api/client";
import { Button, Heading, NumberRow, Toggle } from "../../look/controls";
import { Small } from "../../look/Field";
import type { Tool } from "../stage/tools";
import { Flow } from "../../look/layout";

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
      <Heading>Before it is recoloured</Heading>
      <NumberRow label="Even out" value={s.even ?? 0} min={0} max={100} initial={0} unit="%" onDrag={(v) => onDrag(even(v))} onRest={(v) => onRest("even out", even(v))} />
      <Toggle on={!!r} onChange={(on) => onRest(on ? "rebuild what clipped" : "do not rebuild", { ...s, rebuild: on ? fresh : undefined })}>Rebuild what the light burned out</Toggle>
      {r && (
        <>
          {hand("Rebuilt", "amount", 0, 100, "%")}
          {hand("Grain", "grain", 0, 200, "%")}
          {hand("Slope", "slope", 0, 100, "%")}
          {r.slope > 0 && hand("Light from", "light", -180, 180, "°")}
          <Flow as="span" $gap={6}>
            <Button aria-pressed={tool === "away"} onPress={() => onTool(tool === "away" ? "none" : "away")}>{tool === "away" ? "Brush on the picture" : "Brush it away"}</Button>
            {!!r.away?.length && <Button $kind="quiet" onPress={() => onRest("rebuild everywhere", { ...s, rebuild: { ...r, away: undefined } })}>Bring it back</Button>}
          </Flow>
          <Small>The body’s light and grain go on where the photo clipped. Glints of a lamp are best brushed away.</Small>
        </>
      )}
    </>
  );
}
