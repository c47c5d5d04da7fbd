import styled from "styled-components";
import type { Probe, View } from "../api/client";
import { FootLine } from "../look/Bench";
import { Button, Segmented, Space } from "../look/controls";
import { Field, Select } from "../look/Field";
import type { Show } from "./Stage";

const Zoom = styled.span`
  display: flex;
  button { padding: 2px 6px; min-width: 24px; min-height: 24px; }
  .num { display: inline-block; min-width: 40px; text-align: center; }
`;
const Seen = styled(Select)`max-width: 150px; padding: 1px 4px;`;
const Greys = styled.span`display: flex; gap: 1px;`;
const Grey = styled(Button)<{ $on: boolean }>`
  padding: 3px;
  border: 1.5px solid ${(p) => (p.$on ? "var(--ink)" : "transparent")};
  background: none;
  border-radius: 6px;
  i { display: block; width: 15px; height: 15px; border-radius: 3px; border: 1px solid rgba(0, 0, 0, 0.25); }
`;

export const grounds = { light: "#c6c6c6", middle: "#8a8a8a", dark: "#333333", checks: "#8a8a8a" } as const;
export type GroundName = keyof typeof grounds;
const words = { light: "Light ground", middle: "Middle ground", dark: "Dark ground", checks: "Chequered ground" } as const;

/** How the stage is seen: on the screen, or as the job's inks print it. */
export type InkView = "" | "white" | "paper" | "marks";

/** What a view is asked for with. */
export const inkOf = (i: InkView): Pick<View, "ink" | "ink_marks"> => (i === "" ? {} : i === "marks" ? { ink: "white", ink_marks: true } : { ink: i });

export interface Tint {
  colour: string;
  strength: number;
}

const lch = (l: number[]) => {
  const [L = 0, a = 0, b = 0] = l;
  const h = (Math.atan2(b, a) * 180) / Math.PI;
  return `L ${L.toFixed(1)} C ${Math.hypot(a, b).toFixed(1)} h ${Math.round(h < 0 ? h + 360 : h)}°`;
};

/** Below the stage: the zoom, what the stage shows, and what stands under the cursor. */
export function Foot(p: { zoom: number; onZoom: (by: number | "fit") => void; cast: boolean; show: Show; onShow: (s: Show) => void; ground: GroundName; onGround: (g: GroundName) => void; tint: Tint; onTint: (t: Tint) => void; hover?: { x: number; y: number }; probe?: Probe; inks?: string; ink: InkView; onInk: (i: InkView) => void }) {
  const names = (Object.keys(grounds) as GroundName[]).filter((g) => g !== "checks" || p.show === "cutout" || p.show === "rest");
  const { probe } = p;
  return (
    <FootLine>
      <Zoom role="group" aria-label="Zoom">
        <Button $kind="quiet" aria-label="Zoom out" onPress={() => p.onZoom(0.8)}>−</Button>
        <Button $kind="quiet" aria-label={`${p.zoom < 9.95 ? p.zoom.toFixed(1) : Math.round(p.zoom)} %, fit the picture`} onPress={() => p.onZoom("fit")}><span className="num">{p.zoom < 9.95 ? p.zoom.toFixed(1) : Math.round(p.zoom)} %</span></Button>
        <Button $kind="quiet" aria-label="Zoom in" onPress={() => p.onZoom(1.25)}>+</Button>
      </Zoom>
      <Segmented
        small
        label="What the stage shows"
        value={p.show}
        onChange={p.onShow}
        options={[["picture", "Picture"], ["hatch", "Hatch"], ["tint", "Tint"], ["mask", "Mask"], ["changed", "Changed"], ["cutout", "Cut-out"], ["rest", "The rest"], ...(p.cast ? [["cast", "Cast"] as const] : [])]}
      />
      {p.show === "tint" && (
        <>
          <Field style={{ padding: "1px 4px" }} key={p.tint.colour} aria-label="Colour of the tint" defaultValue={p.tint.colour} size={7} onBlur={(e) => { const v = e.target.value.trim(); if (/^#[0-9a-f]{6}$/i.test(v)) p.onTint({ ...p.tint, colour: v }); else e.target.value = p.tint.colour; }} onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); }} />
          <Field style={{ padding: "1px 4px" }} key={`s${p.tint.strength}`} aria-label="Strength of the tint in percent" defaultValue={p.tint.strength} size={3} onBlur={(e) => { const v = Number.parseFloat(e.target.value.replace(",", ".")); p.onTint({ ...p.tint, strength: Number.isFinite(v) ? Math.max(5, Math.min(100, v)) : p.tint.strength }); }} onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); }} />
        </>
      )}
      <Greys role="group" aria-label="Grey around the picture">
        {names.map((g) => (
          <Grey key={g} $kind="quiet" $on={p.ground === g} aria-label={words[g]} aria-pressed={p.ground === g} onPress={() => p.onGround(g)}>
            <i data-paint="" style={{ background: g === "checks" ? "repeating-conic-gradient(#ccc 0 25%, #909090 0 50%) 0 0 / 8px 8px" : grounds[g] }} />
          </Grey>
        ))}
      </Greys>
      <Seen aria-label="Seen in ink" value={p.ink} onChange={(e) => p.onInk(e.target.value as InkView)} title={p.inks ? `Inks: ${p.inks}` : "The job has no ink profile; bring one in beside its palette"}>
        <option value="">On screen</option>
        <option value="white" disabled={!p.inks}>{p.inks ? "In ink" : "In ink: no profile"}</option>
        <option value="marks" disabled={!p.inks}>In ink, marked</option>
        <option value="paper" disabled={!p.inks}>In ink, on paper</option>
      </Seen>
      <Space />
      {p.hover && (
        <span className="num" data-testid="readout">
          x {Math.floor(p.hover.x)} y {Math.floor(p.hover.y)}
          {probe?.near !== undefined && ` · near ${probe.near.toFixed(2)}`}
          {probe && ` · ${lch(probe.was)} → ${lch(probe.is)}`}
          {probe?.distance !== undefined && ` · ΔE ${probe.distance.toFixed(1)}`}
        </span>
      )}
    </FootLine>
  );
}
