import styled from "styled-components";
import type { View } from "../api/client";
import { FootLine } from "../look/Bench";
import { Segmented } from "../look/controls";
import { Select } from "../look/Field";
import { LowField, numberFrom } from "../look/TypedField";
import { ZoomButtons } from "../stage/ZoomButtons";
import type { Show } from "./stage/painter";
import type { Hovering } from "./hovering";
import { Readout } from "./Readout";
import { SignButton } from "../look/SignButton";
import { still } from "../look/still";
import * as words from "../words/bench";

const Seen = styled(Select)`max-width: 150px; padding: 1px 4px; field-sizing: content;`;
const Greys = styled.span`display: flex; gap: 1px;`;
const Grey = styled(SignButton)<{ $on: boolean }>`
  padding: 3px;
  border: 1.5px solid ${(p) => (p.$on ? "var(--ink)" : "transparent")};
  background: none;
  border-radius: 6px;
  i { display: block; width: 15px; height: 15px; border-radius: 3px; border: 1px solid rgba(0, 0, 0, 0.25); }
`;

export const grounds = { light: "#c6c6c6", middle: "#8a8a8a", dark: "#333333", checks: "#8a8a8a" } as const;
export type GroundName = keyof typeof grounds;
const groundNames = { light: words.lightGround, middle: words.middleGround, dark: words.darkGround, checks: words.chequeredGround } as const;

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

/** Below the stage: the zoom, what the stage shows, and what stands under the cursor. */
export const Foot = still(function Foot(p: { zoom: number; onZoom: (by: number | "fit") => void; cast: boolean; show: Show; onShow: (s: Show) => void; ground: GroundName; onGround: (g: GroundName) => void; tint: Tint; onTint: (t: Tint) => void; over: Hovering; inks?: string; ink: InkView; onInk: (i: InkView) => void }) {
  const names = (Object.keys(grounds) as GroundName[]).filter((g) => g !== "checks" || p.show === "cutout" || p.show === "rest");
  return (
    <FootLine>
      <ZoomButtons percent={p.zoom} what={words.picture} onZoom={p.onZoom} />
      <Segmented
        small
        label={words.whatTheStageShows}
        value={p.show}
        onChange={p.onShow}
        options={[["picture", words.pictureHigh], ["hatch", words.hatch], ["tint", words.tint], ["mask", words.mask], ["changed", words.changed], ["cutout", words.cutOut], ["rest", words.theRest], ...(p.cast ? [["cast", words.cast] as const] : [])]}
      />
      {p.show === "tint" && (
        <>
          <LowField aria-label={words.colourOfTheTint} value={p.tint.colour} read={hexFrom} size={7} onValue={(colour) => p.onTint({ ...p.tint, colour })} />
          <LowField aria-label={words.strengthOfTheTintInPercent} value={String(p.tint.strength)} read={strengthFrom} size={3} onValue={(v) => p.onTint({ ...p.tint, strength: Number(v) })} />
        </>
      )}
      <Greys role="group" aria-label={words.greyAroundThePicture}>
        {names.map((g) => (
          <Grey key={g} says={groundNames[g]} $on={p.ground === g} aria-pressed={p.ground === g} onPress={() => p.onGround(g)}>
            <i data-paint="" style={{ background: g === "checks" ? "repeating-conic-gradient(#ccc 0 25%, #909090 0 50%) 0 0 / 8px 8px" : grounds[g] }} />
          </Grey>
        ))}
      </Greys>
      <Seen aria-label={words.seenInInk} value={p.ink} onChange={(e) => p.onInk(e.target.value as InkView)} title={p.inks ? words.inksOf(p.inks) : words.theJobHasNoInkProfile}>
        <option value="">{words.onScreen}</option>
        <option value="white" disabled={!p.inks}>{p.inks ? words.inInk : words.inInkNoProfile}</option>
        <option value="marks" disabled={!p.inks}>{words.inInkMarked}</option>
        <option value="paper" disabled={!p.inks}>{words.inInkOnPaper}</option>
      </Seen>
      <Readout over={p.over} />
    </FootLine>
  );
});
