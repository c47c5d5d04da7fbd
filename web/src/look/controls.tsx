import { memo, useLayoutEffect, useRef, useState, type ReactNode } from "react";
import { Button as AriaButton, Checkbox as AriaCheckbox, Slider, SliderThumb, SliderTrack, ToggleButton, ToggleButtonGroup, type ButtonProps, type Key as ItemKey } from "react-aria-components";
import styled, { css } from "styled-components";
import { useStable } from "./useStable";
import { keysRest, useStep } from "./useStep";
import * as words from "../words/look";

/** A button. One that holds a tool, or another thing that lasts until it is pressed again, says so by held. */
export const Button = styled(AriaButton)<ButtonProps & { $kind?: "solid" | "plain" | "quiet"; $low?: boolean; $held?: boolean }>`
  border-radius: var(--round);
  border: 1px solid var(--edge);
  background: var(--white);
  min-height: 24px;
  min-width: 24px;
  padding: 5px 12px;
  font-weight: 500;
  cursor: default;
  white-space: nowrap;
  &[data-hovered] { border-color: var(--ink); }
  &[data-pressed] { background: var(--rail); }
  &[data-disabled] { color: #9a9a9a; border-color: #e4e4e4; }
  ${(p) => p.$kind === "solid" && css`
    background: var(--ink); color: #fff; border-color: var(--ink); font-weight: 600; padding: 6px 14px;
    &[data-hovered] { background: #303030; }
    &[data-pressed] { background: #000; }
    &[data-disabled] { background: #9a9a9a; color: #fff; border-color: #9a9a9a; }
  `}
  ${(p) => p.$kind === "quiet" && css`
    background: none; border-color: transparent; color: var(--ink2); padding: 5px 7px;
    &[data-hovered] { background: var(--rail); border-color: transparent; }
    &[data-disabled] { border-color: transparent; }
  `}
  ${(p) => p.$low && css`padding: 2px 5px;`}
  ${(p) => p.$held && css`
    background: var(--ink); color: #fff; border-color: var(--ink);
    &[data-hovered] { background: #303030; }
  `}
`;

const Group = styled(ToggleButtonGroup)`
  display: inline-flex;
  border: 1px solid var(--edge);
  border-radius: var(--round);
  max-width: 100%;
  overflow: auto hidden;
  background: var(--white);
`;
const Item = styled(ToggleButton)<{ $small?: boolean }>`
  border: 0;
  border-left: 1px solid var(--rule);
  background: none;
  min-height: 24px;
  min-width: 26px; // a hand needs 24 by 24
  padding: ${(p) => (p.$small ? "2px 9px" : "5px 11px")};
  font-size: ${(p) => (p.$small ? "12px" : "13px")};
  color: var(--ink2);
  cursor: default;
  &:first-child { border-left: 0; }
  &[data-hovered] { background: var(--rail); }
  &[data-selected] { background: var(--ink); color: #fff; }
  &[data-focus-visible] { outline-offset: -3px; outline-color: currentColor; }
`;

interface SegmentedProps<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
  small?: boolean;
}

/** One of a few, side by side. */
export function Segmented<T extends string>(p: SegmentedProps<T>) {
  return <Segments {...(p as unknown as SegmentedProps<string>)} onChange={useStable(p.onChange as (v: string) => void)} />;
}

// Drawn anew only where something about it changed: rows of these stand beside sliders that a hand drags.
const Segments = memo(function Segments(p: SegmentedProps<string>) {
  return (
    <Group
      aria-label={p.label}
      selectionMode="single"
      disallowEmptySelection
      selectedKeys={[p.value]}
      onSelectionChange={(k: Set<ItemKey>) => {
        const v = [...k][0];
        if (v !== undefined) p.onChange(String(v));
      }}
    >
      {p.options.map(([id, text]) => (
        <Item key={id} id={id} $small={p.small}>
          {text}
        </Item>
      ))}
    </Group>
  );
}, (a, b) => a.label === b.label && a.value === b.value && a.small === b.small && String(a.options) === String(b.options));

const Row = styled.div`
  display: grid;
  grid-template-columns: 104px 1fr 62px;
  gap: 9px;
  align-items: center;
  min-height: 26px;
`;
const Track = styled(SliderTrack)`
  position: relative;
  height: 20px;
  &::before { content: ""; position: absolute; inset: 8px 0; border-radius: 2px; background: #cdcdcd; }
`;
const Fill = styled.i`
  position: absolute;
  top: 8px;
  height: 4px;
  border-radius: 2px;
  background: var(--ink);
`;
const Mark = styled.i`
  position: absolute;
  top: 1px;
  width: 2px;
  height: 18px;
  margin-left: -1px;
  background: var(--ink);
  box-shadow: 0 0 0 1px #fff;
`;
const Thumb = styled(SliderThumb)`
  top: 10px;
  width: 15px;
  height: 15px;
  border-radius: 50%;
  background: #fff;
  border: 1.5px solid var(--ink);
  &[data-dragging] { background: var(--ink); }
`;
const Field = styled.input`
  width: 100%;
  text-align: right;
  border: 1px solid var(--edge);
  border-radius: 4px;
  background: none;
  padding: 1px 4px;
  min-height: 24px;
  font: 11.5px/1.35 var(--figures);
  &:hover { border-color: var(--ink); }
  &:focus { border-color: var(--ink); background: #fff; outline: none; }
`;

interface NumberRowProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit?: string;
  initial: number;
  signed?: boolean;
  /** A place on the track that means something. */
  mark?: number;
  onDrag: (v: number) => void;
  onRest: (v: number) => void;
}

/** A number that can be dragged and typed; a double click on it puts it back to its default. */
export function NumberRow(p: NumberRowProps) {
  return <Numbered {...p} onDrag={useStable(p.onDrag)} onRest={useStable(p.onRest)} />;
}

/** What was typed as a figure; a comma is a point, whatever the browser's language. */
const figure = (typed: string) => Number.parseFloat(typed.replace(",", ".").replace("−", "-"));

const Numbered = memo(function Numbered(p: NumberRowProps) {
  const show = (v: number) => `${p.signed && v > 0 ? "+" : ""}${Math.round(v * 10) / 10}${p.unit ? ` ${p.unit}` : ""}`;
  const [typed, setTyped] = useState<string | null>(null);
  const moved = useRef(0); // how often since the pointer or the key went down
  const byKey = useRef(false);
  const row = useRef<HTMLDivElement>(null);
  const field = useRef<HTMLInputElement>(null);
  const touched = useRef(false); // something was typed since it was entered
  const entered = useRef(false); // just now: what the field holds is selected as soon as it holds the plain figure
  useLayoutEffect(() => {
    if (!entered.current) return;
    entered.current = false;
    field.current?.select();
  });
  const rest = useStep(row, p.onRest);
  const at = (v: number) => (100 * (v - p.min)) / (p.max - p.min);
  const zero = at(Math.max(p.min, Math.min(p.max, p.signed ? 0 : p.min)));
  const commit = () => {
    if (typed === null) return;
    const v = figure(typed);
    setTyped(null);
    if (Number.isFinite(v)) p.onRest(Math.max(p.min, Math.min(p.max, v)));
  };
  return (
    <Row
      ref={row}
      onPointerDownCapture={() => { byKey.current = false; }}
      onKeyDownCapture={() => { byKey.current = true; }}
      onBlur={rest.now}
      onDoubleClick={(e) => {
        if (e.target instanceof HTMLInputElement && e.target.type === "text") return;
        const was = rest.drop(); // the first of the two clicks moved it, perhaps
        if (was || p.value !== p.initial) p.onRest(p.initial);
      }}
    >
      <span>{p.label}</span>
      <Slider
        aria-label={p.label}
        value={p.value}
        minValue={p.min}
        maxValue={p.max}
        step={p.step ?? 1}
        onChange={(v) => {
          moved.current++;
          p.onDrag(v);
        }}
        onChangeEnd={(v) => {
          // A click that moves nothing is no step; keys are one until they rest, and a click waits whether it becomes two.
          if (moved.current > 0) rest.after(v, byKey.current ? keysRest : moved.current === 1 ? 280 : 0);
          moved.current = 0;
        }}
      >
        <Track data-track="">
          <Fill data-fill="" style={{ left: `${Math.min(zero, at(p.value))}%`, width: `${Math.abs(at(p.value) - zero)}%` }} />
          {p.mark !== undefined && <Mark style={{ left: `${at(Math.max(p.min, Math.min(p.max, p.mark)))}%` }} />}
          <Thumb />
        </Track>
      </Slider>
      <Field
        aria-label={words.labelTyped(p.label)}
        value={typed ?? show(p.value)}
        ref={field}
        onFocus={(e) => {
          const box = e.currentTarget;
          entered.current = true;
          touched.current = false;
          setTyped(String(Math.round(p.value * 10) / 10));
          // Once more where a click let go of it; not where a digit was typed meanwhile.
          requestAnimationFrame(() => { if (!touched.current) box.select(); });
        }}
        onInput={() => { touched.current = true; }} // also by the very figure that stands there, which is no change
        onChange={(e) => {
          setTyped(e.target.value);
        }}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setTyped(null);
          if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            // As at the slider: a step a key, ten with Shift, from what stands there.
            e.preventDefault();
            const by = (p.step ?? 1) * (e.shiftKey ? 10 : 1) * (e.key === "ArrowUp" ? 1 : -1);
            const from = figure(typed ?? "");
            const v = Math.max(p.min, Math.min(p.max, Math.round(((Number.isFinite(from) ? from : p.value) + by) * 1000) / 1000));
            touched.current = true;
            setTyped(String(v));
            p.onDrag(v);
            rest.after(v, keysRest);
          }
        }}
      />
    </Row>
  );
});

export const Bar = styled.header`
  display: flex;
  align-items: center;
  gap: 4px 14px;
  min-height: 44px;
  padding: 0 14px;
  > * { flex-shrink: 0; }
  > nav { flex: 0 1 auto; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  @media (max-width: 900px) { flex-wrap: wrap; padding: 6px 14px; }
  border-bottom: 1px solid var(--rule);
  background: var(--card);
  flex: none;
`;
export const Space = styled.span`flex: 1;`;
export const Heading = styled.h3`
  font-size: 12px;
  font-weight: 600;
  color: var(--ink2);
  margin-top: 3px;
`;

const Check = styled(AriaCheckbox)`
  position: relative;
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 24px;
  cursor: default;
  &::before { content: ""; flex: none; width: 14px; height: 14px; border: 1.5px solid var(--ink); border-radius: 4px; background: #fff; }
  &[data-selected]::before { background: var(--ink); box-shadow: inset 0 0 0 2.5px #fff; }
  &[data-focus-visible] { outline-offset: 3px; }
`;
/** Something that is on or off. */
export function Toggle(p: { on: boolean; onChange: (on: boolean) => void; children: ReactNode }) {
  return <Check isSelected={p.on} onChange={p.onChange}>{p.children}</Check>;
}

const Note = styled.div<{ $strong?: boolean }>`
  border: 1px ${(p) => (p.$strong ? "solid var(--ink)" : "dashed var(--ink3)")};
  border-radius: var(--round);
  background: var(--white);
  padding: 8px 11px;
  font-size: 12.5px;
  overflow-wrap: anywhere;
`;
/** Says something that matters now; read out by screen readers. */
export function Notice({ children, strong }: { children: ReactNode; strong?: boolean }) {
  return (
    <Note role={strong ? "alert" : "status"} $strong={strong}>
      {children}
    </Note>
  );
}

export const Key = styled.kbd`
  font: 11px var(--figures);
  border: 1px solid currentColor;
  border-radius: 4px;
  padding: 0 5px;
`;
