import styled from "styled-components";
import type { Probe, View } from "../api/client";
import { FootLine } from "../look/Bench";
import { Button, Segmented, Space } from "../look/controls";
import { Select } from "../look/Field";
import { LowField, numberFrom } from "../look/TypedField";
import { ZoomButtons } from "../stage/ZoomButtons";
import type { Show } from "./stage/painter";

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

const hexFrom = (text: string) => (/^#[0-9a-f]{6}$/i.test(text.trim()) ? text.trim() : undefined);
const strengthFrom = numberFrom(5, 100);

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
      <ZoomButtons percent={p.zoom} what="picture" onZoom={p.onZoom} />
      <Segmented
        small
        label="What the stage shows"
        value={p.show}
        onChange={p.onShow}
        options={[["picture", "Picture"], ["hatch", "Hatch"], ["tint", "Tint"], ["mask", "Mask"], ["changed", "Changed"], ["cutout", "Cut-out"], ["rest", "The rest"], ...(p.cast ? [["cast", "Cast"] as const] : [])]}
      />
      {p.show === "tint" && (
        <>
          <LowField aria-label="Colour of the tint" value={p.tint.colour} read={hexFrom} size={7} onValue={(colour) => p.onTint({ ...p.tint, colour })} />
          <LowField aria-label="Strength of the tint in percent" value={String(p.tint.strength)} read={strengthFrom} size={3} onValue={(v) => p.onTint({ ...p.tint, strength: Number(v) })} />
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
