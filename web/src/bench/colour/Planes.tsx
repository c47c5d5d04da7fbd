import { useContext, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { ColorArea, ColorThumb, ColorWheel, ColorWheelTrack, parseColor, type Color } from "react-aria-components";
import styled from "styled-components";
import { Button, Segmented } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Disc } from "../../look/Disc";
import { Small } from "../../look/Field";
import { Swatches } from "../../look/Swatches";
import { useStable } from "../../look/useStable";
import { keysRest, useStep } from "../../look/useStep";
import type { Eye } from "./ByEye";
import { Looking } from "./looking";
import { at, byKey, cssOf, harmonies, planeChroma, polarOf, type Polar } from "./polar";
import { chose, recentColours } from "./recent";
import { useColour } from "./useColour";
import { useVivid } from "./useVivid";
import * as words from "../../words/colour";

const channels = [[words.hue, "hue", 360, "°"], [words.saturation, "saturation", 100, "%"], [words.brightness, "brightness", 100, "%"]] as const;
const middle: Polar = { l: 60, c: 25, h: 200 };

/** What the card of a colour chosen by eye holds. It comes when it is first opened. */
export default function Planes(p: Eye) {
  const [plane, setPlane] = useState<"oklch" | "hsb">("oklch");
  const [polar, setPolar] = useState(middle);
  const [hsb, setHSB] = useState<Color>(() => parseColor("hsb(200, 60%, 60%)"));
  const [recent, setRecent] = useState(recentColours);
  const [start, setStart] = useState<Polar>(); // where a double click goes back to
  const [startHSB, setStartHSB] = useState<Color>();
  const mine = useRef<string | undefined>(undefined); // what was set here comes back as the value
  const moving = useRef<string | undefined>(undefined); // what a hand that has not let go shows
  const [asked, setAsked] = useState(p.value); // not while a hand moves: it asks the stage for enough
  const { picture, job, inks } = useContext(Looking);
  const now = useColour(asked, job, p.relative ? p.own : undefined);
  const own = useColour(p.own ?? "", job);
  const like = asked === "" ? own : now;
  const vivid = useVivid(picture, like?.oklch);
  useEffect(() => { if (moving.current === undefined) setAsked(p.value); }, [p.value]);
  useEffect(() => {
    if (moving.current !== undefined) return; // an answer that comes late does not pull at the hand
    if (asked === "" && own) setPolar(polarOf(own.oklch)); // where nothing is set, from what the thing is
    if (!now || now.css !== asked) return;
    const here = asked === mine.current; // the plane it was set on is where the hand is already
    if (!here || plane !== "oklch") setPolar((before) => polarOf(now.oklch, before));
    const read = parseColor(now.hex).toFormat("hsb");
    if (!here || plane !== "hsb") setHSB((before) => sameHue(read, before));
    setStartHSB((before) => before ?? read);
    setStart((before) => before ?? polarOf(now.oklch));
  }, [now, own, asked, plane]);

  const set = (css: string) => {
    moving.current = undefined;
    setAsked(css);
    p.onColour(css);
    chose(css);
    setRecent(recentColours());
  };
  const drag = (css: string) => {
    mine.current = moving.current = css;
    p.onDrag?.(css);
  };
  const rest = (css: string) => {
    mine.current = css;
    set(css);
  };
  const pick = (css: string) => {
    mine.current = undefined; // so that the planes follow
    set(css);
  };
  // What is shown is kept, also where the planes are closed before the hand lets go. What waits for keys comes first.
  const left = useStable(() => queueMicrotask(() => { if (moving.current !== undefined) p.onColour(moving.current); }));
  useEffect(() => left, [left]);
  const dragPolar = (v: Polar) => {
    setPolar(v);
    drag(cssOf(v));
  };
  const restPolar = (v: Polar) => {
    setPolar(v);
    rest(cssOf(v));
  };
  const dragHSB = (v: Color) => {
    setHSB(v);
    drag(v.toString("hex"));
  };
  const restHSB = (v: Color) => {
    setHSB(v);
    rest(v.toString("hex"));
  };
  return (
    <>
      <Segmented small label={words.planes} value={plane} onChange={setPlane} options={[["oklch", words.lightnessChroma], ["hsb", words.saturationBrightness]]} />
      {plane === "oklch" ? (
        <>
          <Plane polar={polar} own={own ? polarOf(own.oklch) : undefined} vivid={!vivid || !like ? undefined : { ...polarOf(like.oklch), c: vivid }} job={inks && job} inks={inks?.profile} onDrag={dragPolar} onRest={restPolar} />
          <NumberRow label={words.hue} value={polar.h} min={0} max={360} unit="°" initial={(start ?? polar).h} onDrag={(h) => dragPolar({ ...polar, h })} onRest={(h) => restPolar({ ...polar, h })} />
          <NumberRow label={words.lightness} value={polar.l} min={0} max={100} step={0.5} unit="%" initial={(start ?? polar).l} onDrag={(l) => dragPolar({ ...polar, l })} onRest={(l) => restPolar({ ...polar, l })} />
          <NumberRow label={words.chroma} value={polar.c} min={0} max={planeChroma} step={0.5} unit="%" initial={(start ?? polar).c} onDrag={(c) => dragPolar({ ...polar, c })} onRest={(c) => restPolar({ ...polar, c })} />
        </>
      ) : (
        <>
          <Round>
            <ColorWheel aria-label={words.hue} outerRadius={ring.outer} innerRadius={ring.inner} value={hsb} onChange={dragHSB} onChangeEnd={restHSB}>
              <ColorWheelTrack />
              <Thumb />
            </ColorWheel>
            <Area aria-label={words.saturationAndBrightness} value={hsb} xChannel="saturation" yChannel="brightness" onChange={dragHSB} onChangeEnd={restHSB}><Thumb /></Area>
          </Round>
          {channels.map(([name, channel, max, unit]) => (
            <NumberRow key={channel} label={name} value={Math.round(hsb.getChannelValue(channel) * 10) / 10} min={0} max={max} step={0.5} unit={unit} initial={Math.round((startHSB ?? hsb).getChannelValue(channel) * 10) / 10} onDrag={(v) => dragHSB(hsb.withChannelValue(channel, v))} onRest={(v) => restHSB(hsb.withChannelValue(channel, v))} />
          ))}
        </>
      )}
      <Small>{now && !now.in_srgb ? <>{words.beyondSrgbTheNearestShownIs}<span className="num">{now.hex}</span></> : plane === "oklch" ? inks ? <OneLine title={words.dottedWhatInksCanPrint(inks.name)}>{words.hatchedBeyondSrgbDottedInks(inks.name)}</OneLine> : words.hatchedNoScreenInSrgbCan : words.allOfTheseAScreenIn}</Small>
      {vivid !== undefined && like && (
        <Small data-vivid={vivid.toFixed(1)}>
          {vivid === 0 ? words.nothingInThePhotoIsLike : <>{polarOf(like.oklch).c > vivid + 0.5 ? words.beyond : words.within}{words.thePhotosOwn}<span className="num">{Math.round(vivid)} %</span>{plane === "oklch" && words.theBar}</>}
        </Small>
      )}
      <Chips>
        <Small id="harmonies">{words.byAngle}</Small>
        <Swatches role="group" aria-labelledby="harmonies">
          {harmonies(polar).map((c) => <Chip key={c.name} css={c.css} label={words.hueName(c.name)} onPick={pick} />)}
        </Swatches>
        {recent.length > 0 && <Small id="recent">{words.chosenLast}</Small>}
        {recent.length > 0 && (
          <Swatches role="group" aria-labelledby="recent">
            {recent.map((c) => <Chip key={c} css={c} label={c} onPick={pick} />)}
          </Swatches>
        )}
      </Chips>
    </>
  );
}

/** A grey keeps the hue that was set. */
function sameHue(c: Color, before: Color): Color {
  return c.getChannelValue("saturation") === 0 || c.getChannelValue("brightness") === 0 ? c.withChannelValue("hue", before.getChannelValue("hue")) : c;
}

function Chip(p: { css: string; label: string; onPick: (css: string) => void }) {
  return (
    <Press $kind="quiet" aria-label={p.label} onPress={() => p.onPick(p.css)}><Disc from={p.css} size={18} /></Press>
  );
}

const width = 264;
const height = 180;

/** The plane of one hue. It is drawn by the server; the line on it is the edge of sRGB, the dots are that of the inks. */
function Plane(p: { polar: Polar; own?: Polar; vivid?: Polar; job?: string; inks?: string; onDrag: (v: Polar) => void; onRest: (v: Polar) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const held = useRef(false);
  const keys = useStep(box, p.onRest);
  const newest = useRef(p.polar); // keys may come faster than the page is drawn
  useEffect(() => { newest.current = p.polar; }, [p.polar]);
  const hue = Math.round(p.polar.h) % 360;
  const picture = usePlane(hue, p.job, p.inks);
  const place = (e: PointerEvent) => {
    const r = box.current?.getBoundingClientRect();
    return r ? at(p.polar, (e.clientX - r.x) / r.width, (e.clientY - r.y) / r.height) : p.polar;
  };
  const spot = (v: Polar) => ({ left: `${(100 * Math.min(v.c, planeChroma)) / planeChroma}%`, top: `${100 - v.l}%` });
  return (
    <Ground
      ref={box}
      data-plane={picture ? hue : ""}
      onPointerDown={(e) => {
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
        e.currentTarget.querySelector<HTMLElement>("[role=slider]")?.focus();
        held.current = true;
        p.onDrag(place(e));
      }}
      onPointerMove={(e) => { if (held.current) p.onDrag(place(e)); }}
      onPointerUp={(e) => {
        if (!held.current) return;
        held.current = false;
        p.onRest(place(e));
      }}
      onPointerCancel={() => {
        held.current = false;
        p.onRest(p.polar);
      }}
    >
      {picture && <img src={picture} width={width} height={height} alt="" draggable={false} />}
      {p.own && <Mark style={spot(p.own)} title={words.theColourInThePicture} />}
      {p.vivid && <Bar style={spot(p.vivid)} title={words.theMostVividColourLikeIt} />}
      <Handle
        role="slider"
        tabIndex={0}
        aria-label={words.lightnessAndChroma}
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(p.polar.l)}
        aria-valuetext={words.lightnessLChromaC(Math.round(p.polar.l), Math.round(p.polar.c))}
        style={spot(p.polar)}
        onKeyDown={(e: KeyboardEvent) => {
          const next = byKey(newest.current, e.key, e.shiftKey);
          if (!next) return;
          e.preventDefault();
          newest.current = next;
          p.onDrag(next);
          keys.after(next, keysRest);
        }}
      />
    </Ground>
  );
}

/** The address of a hue's plane once it is there; meanwhile that of the hue before. */
function usePlane(hue: number, job?: string, inks?: string): string | undefined {
  const [shown, setShown] = useState<string>();
  useEffect(() => {
    let wanted = true;
    const src = `/api/plane?hue=${hue}&width=${width}&height=${height}${job && inks ? `&job=${job}&inks=${inks}` : ""}`;
    const img = new Image();
    img.src = src;
    img.decode().then(() => { if (wanted) setShown(src); }, () => undefined); // the line is away: the plane before stays
    return () => { wanted = false; };
  }, [hue, job, inks]);
  return shown;
}

const Chips = styled.div`
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 0 6px;
  align-items: center;
`;
const Ground = styled.div`
  position: relative;
  width: 100%; /* narrower where the card has a bar */
  height: ${height}px;
  border: 1px solid var(--edge);
  background: repeating-linear-gradient(45deg, #e4e4e4 0 3px, #efefef 3px 6px);
  touch-action: none;
  cursor: crosshair;
  > img { display: block; position: absolute; inset: 0; width: 100%; }
`;
const Handle = styled.div`
  position: absolute;
  width: 14px;
  height: 14px;
  margin: -7px 0 0 -7px;
  border: 2px solid #fff;
  border-radius: 50%;
  box-shadow: 0 0 0 1.5px #1c1c1c, inset 0 0 0 1.5px #1c1c1c;
  outline-offset: 4px;
`;
const Mark = styled.div`
  position: absolute;
  width: 8px;
  height: 8px;
  margin: -4px 0 0 -4px;
  border: 1px solid #fff;
  outline: 1px solid #1c1c1c;
  transform: rotate(45deg);
  pointer-events: none;
`;
const OneLine = styled.span`
  display: block;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
`;
const Bar = styled.div`
  position: absolute;
  width: 4px;
  height: 16px;
  margin: -8px 0 0 -2px;
  background: #fff;
  border: 1px solid #1c1c1c;
  pointer-events: none;
`;
/** Radii of the ring of hues, in CSS pixels; the square of its hue lies in it. */
const ring = { outer: 88, inner: 72, square: 98 };
const Round = styled.div`
  display: grid;
  place-items: center;
  > * { grid-area: 1 / 1; }
`;
const Area = styled(ColorArea)`
  width: ${ring.square}px;
  height: ${ring.square}px;
  outline: 1px solid var(--edge);
`;
const Thumb = styled(ColorThumb)`
  width: 14px;
  height: 14px;
  border: 2px solid #fff;
  border-radius: 50%;
  box-shadow: 0 0 0 1.5px #1c1c1c, inset 0 0 0 1.5px #1c1c1c;
  &[data-focus-visible] { outline: 2px solid var(--ink); outline-offset: 3px; }
`;
const Press = styled(Button)`
  padding: 0;
  border-radius: 50%;
  display: grid;
`;
