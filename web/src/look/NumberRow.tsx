import { memo, useContext, useLayoutEffect, useRef, useState } from "react";
import { Slider, SliderThumb, SliderTrack } from "react-aria-components";
import styled from "styled-components";
import { GoesAhead, lately } from "./goesAhead";
import { useStable } from "./useStable";
import { keysRest, useStep } from "./useStep";
import * as words from "../words/look";
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
  // What the hand has made of it: the page around may follow later.
  const [held, setHeld] = useState<number | null>(null);
  const value = held ?? p.value;
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
  const ahead = useContext(GoesAhead);
  const drag = (v: number) => {
    setHeld(v);
    if (ahead) lately(() => p.onDrag(v));
    else p.onDrag(v);
  };
  const done = (v: number) => {
    setHeld(null);
    p.onRest(v);
  };
  const rest = useStep(row, done);
  const at = (v: number) => (100 * (v - p.min)) / (p.max - p.min);
  const zero = at(Math.max(p.min, Math.min(p.max, p.signed ? 0 : p.min)));
  const commit = () => {
    if (typed === null) return;
    const v = figure(typed);
    setTyped(null);
    if (Number.isFinite(v)) done(Math.max(p.min, Math.min(p.max, v)));
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
        if (was || value !== p.initial) done(p.initial);
      }}
    >
      <span>{p.label}</span>
      <Slider
        aria-label={p.label}
        value={value}
        minValue={p.min}
        maxValue={p.max}
        step={p.step ?? 1}
        onChange={(v) => {
          moved.current++;
          drag(v);
        }}
        onChangeEnd={(v) => {
          // A click that moves nothing is no step; keys are one until they rest, and a click waits whether it becomes two.
          if (moved.current > 0) rest.after(v, byKey.current ? keysRest : moved.current === 1 ? 280 : 0);
          moved.current = 0;
        }}
      >
        <Track data-track="">
          <Fill data-fill="" style={{ left: `${Math.min(zero, at(value))}%`, width: `${Math.abs(at(value) - zero)}%` }} />
          {p.mark !== undefined && <Mark style={{ left: `${at(Math.max(p.min, Math.min(p.max, p.mark)))}%` }} />}
          <Thumb />
        </Track>
      </Slider>
      <Field
        aria-label={words.labelTyped(p.label)}
        value={typed ?? show(value)}
        ref={field}
        onFocus={(e) => {
          const box = e.currentTarget;
          entered.current = true;
          touched.current = false;
          setTyped(String(Math.round(value * 10) / 10));
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
            const v = Math.max(p.min, Math.min(p.max, Math.round(((Number.isFinite(from) ? from : value) + by) * 1000) / 1000));
            touched.current = true;
            setTyped(String(v));
            drag(v);
            rest.after(v, keysRest);
          }
        }}
      />
    </Row>
  );
});
