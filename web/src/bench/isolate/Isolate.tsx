import { useCallback, useRef } from "react";
import styled, { css } from "styled-components";
import { api, explain, unwrap, type Areas, type Edge, type Part, type Pick } from "../../api/client";
import { Button, Heading, Key, Notice, Segmented } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Face } from "../../look/Face";
import { Small } from "../../look/Field";
import type { Tool } from "../stage/tools";
import { useLatest } from "../useLatest";
import { AreasBox } from "./AreasBox";
import { Band } from "./Band";
import { reachSteps, type Options } from "./gestures";
import { joinList, joins, kinds, offers } from "./kinds";
import { PickList } from "./PickList";
import type { Isolating } from "./useIsolate";
import * as words from "../../words/isolate";
import * as picks from "../../words/picks";

const Other = styled(Button)`max-width: 100%; overflow: hidden; text-overflow: ellipsis;`;

const Kinds = styled.div`
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 5px;
`;
const Choice = styled(Button)<{ $on?: boolean }>`
  display: flex;
  align-items: center;
  justify-content: center;
  gap: 5px;
  padding: 5px 2px;
  min-height: 30px;
  font-size: 12px;
  line-height: 1.15;
  white-space: normal;
  color: var(--ink2);
  svg { flex: none; }
  kbd { font-size: 10px; padding: 0 3px; opacity: 0.6; }
  ${(p) => p.$on && css`
    border-color: var(--ink);
    box-shadow: 0 0 0 1px var(--ink);
    color: var(--ink);
    font-weight: 650;
  `}
`;
const Joins = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr 1.35fr;
  gap: 5px;
`;
const Line = styled.div`
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
`;

/** Two discs, what is left of them filled. */
function JoinMark({ kind }: { kind: Pick["join"] }) {
  return (
    <svg width="28" height="16" viewBox="0 0 30 17" aria-hidden>
      {kind === "intersect" ? (
        <>
          <circle cx="11" cy="8.5" r="7" fill="none" stroke="currentColor" strokeWidth="1.1" />
          <circle cx="19" cy="8.500" r="7" fill="none" stroke="currentColor" strokeWidth="1.100" />
          <path d="M15 2.760a7 7 0 0 1 0 11.480a7 7 0 0 1 0-11.480z" fill="currentColor" />
        </>
      ) : (
        <>
          <circle cx="11" cy="8.5" r="7" fill="currentColor" />
          {kind === "add" ? <circle cx="19" cy="8.5" r="7" fill="currentColor" /> : <circle cx="20" cy="8.5" r="7" fill="#fff" stroke="currentColor" strokeWidth="1.3" />}
        </>
      )}
    </svg>
  );
}

interface Props {
  picture: { id: string; depth: boolean; depth_map?: string };
  parts: Part[];
  part?: Part;
  tool: Tool;
  how: Isolating;
  areas?: Areas;
  shownArea?: Areas["list"][number];
  onTool: (t: Tool) => void;
  onPicks: (label: string, picks: Pick[]) => void;
  onEdge: (label: string, edge: Edge, done: boolean) => void;
  onArea: (a: Areas["list"][number] | undefined) => void;
  onWalk: () => void;
  onDepth: (file: File | null) => void;
  onProblem: (message: string | undefined) => void;
  /** What there is to say of the part before its picks. */
  children?: React.ReactNode;
}

/** Isolate: how the part at hand is made. */
export function Isolate(p: Props) {
  const { how, part } = p;
  const o = how.options;
  const set = (what: Partial<Options>) => how.setOptions((b) => ({ ...b, ...what }));
  const edge = part?.edge ?? {};
  const row = (label: string, key: keyof Edge & ("feather" | "grow" | "smooth" | "tidy"), min: number, max: number, step: number, signed = false) => (
    <NumberRow label={label} value={edge[key] ?? 0} min={min} max={max} step={step} initial={0} signed={signed} unit={words.px} onDrag={(v) => p.onEdge(label.toLowerCase(), { ...edge, [key]: v }, false)} onRest={(v) => p.onEdge(label.toLowerCase(), { ...edge, [key]: v }, true)} />
  );
  return (
    <Face>
      {p.children}
      <Kinds role="group" aria-label={words.kindOfPick}>
        {offers.map((f) => {
          const on = f.kinds.some((k) => k === p.tool);
          const k = kinds[f.kinds[0]].key;
          return (
            <Choice key={f.name} $on={on} aria-pressed={on} onPress={() => { if (!on) p.onTool(f.kinds[0]); }}>
              {f.name} {k && <Key>{k}</Key>}
            </Choice>
          );
        })}
      </Kinds>
      <Joins role="group" aria-label={words.howTheNextPickJoins}>
        {joinList.map((j) => (
          <Choice key={j} $on={o.join === j} aria-pressed={o.join === j} onPress={() => set({ join: j })}>
            <JoinMark kind={j} /> {joins[j].name}
          </Choice>
        ))}
      </Joins>
      <ToolOptions {...p} />
      <PickList part={part} parts={p.parts} opened={how.at} onOpen={(i, kind) => { how.open(i); p.onTool(kind); }} onPicks={p.onPicks} />
      {part && part.picks.length > 0 && (
        <>
          <AreasBox areas={p.areas} edge={edge} shown={p.shownArea} onShow={p.onArea} onEdge={(label, e) => p.onEdge(label, e, true)} />
          <Heading>{words.edge}</Heading>
          {row(words.feather, "feather", 0, 40, 0.1)}
          {row(words.growShrink, "grow", -10, 10, 0.1, true)}
          {row(words.smooth, "smooth", 0, 20, 0.5)}
          {row(words.tidyToEdges, "tidy", 0, 20, 1)}
          <Line>
            <Button onPress={p.onWalk}>{words.checkTheEdgeAt100}<Key>N</Key></Button>
            <Button onPress={() => save(p.picture.id, part)}>{words.saveMask}</Button>
          </Line>
        </>
      )}
    </Face>
  );
}

function save(picture: string, part: Part) {
  const a = document.createElement("a");
  a.href = `/api/pictures/${picture}/parts/${encodeURIComponent(part.id)}/mask`;
  a.download = "";
  a.click();
}

/** What the tool at hand can be set to: of the pick it goes into, or of the next. */
function ToolOptions(p: Props) {
  const { how } = p;
  const o = how.options;
  const pick = how.pick;
  const set = (what: Partial<Options>) => how.setOptions((b) => ({ ...b, ...what }));
  const size = <NumberRow label={words.size} value={o.size} min={2} max={400} initial={36} unit={words.px} onDrag={(v) => set({ size: v })} onRest={(v) => set({ size: v })} />;
  switch (p.tool) {
    case "sweep":
      return (
        <>
          {size}
          <NumberRow label={words.reach} value={o.reach} min={-reachSteps} max={reachSteps} step={1} initial={0} signed onDrag={(v) => how.setReach(v, false)} onRest={(v) => how.setReach(v)} />
          <Small>{words.tighterOrWiderThanTheAnswer}<Key>,</Key> <Key>.</Key></Small>
        </>
      );
    case "brush":
      return (
        <>
          {size}
          {(["softness", "strength", "flow"] as const).map((k) => (
            <NumberRow key={k} label={k === "softness" ? words.softness : k === "strength" ? words.strength : words.flow} value={o[k]} min={k === "softness" ? 0 : 1} max={100} initial={k === "softness" ? 15 : 100} unit="%" onDrag={(v) => set({ [k]: v })} onRest={(v) => set({ [k]: v })} />
          ))}
          <Toggle on={o.limit} onChange={(limit) => set({ limit })}>{words.keepToEdges}<Key>E</Key></Toggle>
        </>
      );
    case "like":
      return (
        <>
          <NumberRow
            label={words.tolerance}
            value={pick?.tolerance ?? o.tolerance}
            min={0}
            max={60}
            step={0.1}
            initial={12}
            unit="ΔE"
            onDrag={(v) => { set({ tolerance: v }); how.setPick(words.toleranceLow, { tolerance: v }, false); }}
            onRest={(v) => { set({ tolerance: v }); how.setPick(words.toleranceLow, { tolerance: v }); }}
          />
          <NumberRow
            label={words.lightAndShade}
            value={pick ? (pick.light ?? 0) : o.light}
            min={0}
            max={100}
            step={1}
            initial={0}
            unit="L*"
            onDrag={(v) => { set({ light: v }); how.setPick(words.lightAndShadeLow, { light: v }, false); }}
            onRest={(v) => { set({ light: v }); how.setPick(words.lightAndShadeLow, { light: v }); }}
          />
          <Toggle on={pick ? !!pick.connected : o.connected} onChange={(connected) => { set({ connected }); how.setPick(connected ? words.connectedOnly : words.everywhere, { connected }); }}>{words.onlyWhatIsConnectedToThe}</Toggle>
        </>
      );
    case "outline":
      return (
        <>
          <Line><Segmented small label={words.howTheOutlineIsDrawn} value={o.byHand ? "hand" : "nodes"} onChange={(v) => set({ byHand: v === "hand" })} options={[["nodes", words.nodeByNode], ["hand", words.byHand]]} /></Line>
          <Toggle on={pick ? !!pick.snap : o.snap} onChange={(snap) => { set({ snap }); how.setPick(snap ? words.snapToEdges : words.asDrawn, { snap }); }}>{words.snapToTheEdgesOfThe}</Toggle>
          {how.drawing || how.nodes ? (
            <Line>
              <Button isDisabled={!how.drawing} onPress={how.closeOutline}>{words.closeTheOutline}</Button>
              <Small>{how.nodes ? words.threeNodesMakeAnOutline : o.byHand ? words.drawOnClickForAStraight : words.orClickItsFirstNode}</Small>
            </Line>
          ) : pick ? (
            <Small>{words.dragNodesAndHandlesClickThe}</Small>
          ) : null}
        </>
      );
    case "marks":
      return (
        <>
          {size}
          <Small>{how.ring ? words.nowAStrokeInsideTheThing : pick ? words.strokesMendItInsideAsThey : words.firstALooseRingAroundThe}</Small>
          {pick && <Line><Button onPress={how.newRing}>{words.newRing}</Button></Line>}
        </>
      );
    case "subject":
      return <SubjectOptions {...p} />;
    case "depth":
      return p.picture.depth ? <BandOptions key="depth" of="depth" {...p} /> : <DepthMissing {...p} />;
    case "hues":
      return <BandOptions key="hues" of="hues" {...p} />;
    case "tones":
      return <BandOptions key="tones" of="tones" {...p} />;
    case "part":
    case "mask":
      return (
        <>
          <PartOptions {...p} />
          <MaskOptions {...p} />
        </>
      );
    default:
      return null;
  }
}

function SubjectOptions(p: Props) {
  const { pick } = p.how;
  const at = pick?.candidate ?? 0;
  const sure = useLatest(p.picture.id, useCallback((id: string, signal) => unwrap(api.GET("/api/pictures/{picture}/subject", { params: { path: { picture: id } }, signal })), []));
  return (
    <>
      {pick && sure && sure.length > 1 ? (
        <>
          <Line>
            <Segmented small label={words.whatIsMeant} value={String(Math.min(at, sure.length - 1))} onChange={(v) => p.how.setPick(picks.anotherSubject, { candidate: Number(v) || undefined })} options={sure.map((_, i) => [String(i), [words.first, words.second, words.third, words.fourth][i] ?? String(i + 1)] as const)} />
            <Small><Key>U</Key>{words.offersTheNext}</Small>
          </Line>
          {sure[at] && !sure[at].unsure && <Small>{words.itStandsOutClearly}</Small>}
        </>
      ) : (
        <Line><Button onPress={() => p.how.addPick(words.findTheSubject, { kind: "subject", join: p.how.options.join })}>{words.findTheSubjectHigh}</Button></Line>
      )}
      {sure?.[at]?.unsure && <Notice>{pick ? words.thisOneDoesNotStandOut : words.nothingStandsOutClearlyInThis}</Notice>}
    </>
  );
}

function DepthMissing(p: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Notice>
      <p>{words.thisPictureHasNoDepthMap}</p>
      <Button onPress={() => input.current?.click()}>{words.bringInADepthMap}</Button>
      <FileInput refer={input} label={words.depthMapFile} onFile={p.onDepth} />
    </Notice>
  );
}

function FileInput(p: { refer: React.RefObject<HTMLInputElement | null>; label: string; onFile: (f: File) => void }) {
  return (
    <input
      ref={p.refer}
      type="file"
      aria-label={p.label}
      accept="image/png,image/tiff,image/jpeg,image/webp"
      hidden
      onChange={(e) => {
        const f = e.target.files?.[0];
        if (f) p.onFile(f);
        e.target.value = "";
      }}
    />
  );
}

const bands = {
  depth: { label: picks.depth, min: 0, max: 1, step: 0.01, soft: [0, 0.3, 0.01, 0.03], from: 0.5, to: 1, wraps: false, low: words.farLimit, high: words.nearLimit },
  hues: { label: picks.hues, min: 0, max: 360, step: 1, soft: [0, 60, 1, 12], from: 340, to: 20, wraps: true, low: words.fromHue, high: words.toHue },
  tones: { label: picks.tones, min: 0, max: 100, step: 1, soft: [0, 40, 1, 8], from: 0, to: 35, wraps: false, low: words.fromTone, high: words.toTone },
} as const;

function BandOptions(p: Props & { of: "depth" | "hues" | "tones" }) {
  const b = bands[p.of];
  const { how, of } = p;
  const pick = how.pick;
  const bins = useLatest(`${p.picture.id} ${p.picture.depth_map}`, useCallback((_: string, signal: AbortSignal) => unwrap(api.GET("/api/pictures/{picture}/histogram", { params: { path: { picture: p.picture.id }, query: { of } }, signal })), [p.picture.id, of]));
  const now = { from: pick?.from ?? (pick ? 0 : b.from), to: pick?.to ?? (pick ? 0 : b.to), soft: pick?.soft ?? (pick ? 0 : b.soft[3]) };
  const [softMin, softMax, softStep, softDefault] = b.soft;
  const put = (label: string, what: { from?: number; to?: number; soft?: number }, done: boolean) => {
    if (pick) how.setPick(label, what, done);
    else if (done) how.addPick(label, { kind: of, join: how.options.join, ...now, ...what });
  };
  const number = (label: string, key: "from" | "to", initial: number) => (
    <NumberRow label={label} value={now[key]} min={b.min} max={b.max} step={b.step} initial={initial} onDrag={(v) => put(label.toLowerCase(), { [key]: v }, false)} onRest={(v) => put(label.toLowerCase(), { [key]: v }, true)} />
  );
  return (
    <>
      {of !== "depth" && <Line><Segmented small label={words.huesOrTones} value={of} onChange={(k) => p.onTool(k)} options={[["hues", picks.hues], ["tones", picks.tones]]} /></Line>}
      <Band label={b.label} bins={bins} min={b.min} max={b.max} step={b.step} wraps={b.wraps} {...now} onBand={(from, to, done) => put(words.bandOfIt(of), { from, to }, done)} />
      {number(b.low, "from", b.from)}
      {number(b.high, "to", b.to)}
      <NumberRow label={words.softEnds} value={now.soft} min={softMin} max={softMax} step={softStep} initial={softDefault} onDrag={(v) => put(words.softEndsLow, { soft: v }, false)} onRest={(v) => put(words.softEndsLow, { soft: v }, true)} />
      {of === "hues" && (
        <Line>
          <Button onPress={() => how.addPick(words.takeSkinAway, { kind: "hues", join: "subtract", from: 28, to: 72, soft: 8 })}>{words.takeSkinAwayHigh}</Button>
          <Small>{words.aReadyBandOfHues}</Small>
        </Line>
      )}
      {of === "depth" && <Line><Button onPress={() => p.onDepth(null)}>{words.takeTheDepthMapOut}</Button></Line>}
    </>
  );
}

function PartOptions(p: Props) {
  const others = p.parts.filter((q) => q.id !== p.part?.id && q.picks.length > 0);
  if (others.length === 0) return <Small>{words.thereIsNoOtherPartYet}</Small>;
  return (
    <Line role="group" aria-label={words.partsToReuse}>
      {others.map((q) => (
        <Other key={q.id} onPress={() => p.how.addPick(words.reuseName(q.name), { kind: "part", join: p.how.options.join, part: q.id })}>{q.name}</Other>
      ))}
    </Line>
  );
}

function MaskOptions(p: Props) {
  const input = useRef<HTMLInputElement>(null);
  const bring = async (f: File) => {
    try {
      const { file } = await unwrap(api.POST("/api/pictures/{picture}/masks", { params: { path: { picture: p.picture.id }, query: { name: f.name } }, body: f as unknown as string, bodySerializer: (b) => b, headers: { "Content-Type": "application/octet-stream" } }));
      p.onProblem(undefined);
      p.how.addPick(words.maskName(f.name), { kind: "mask", join: p.how.options.join, file });
    } catch (e) {
      p.onProblem(explain(e));
    }
  };
  return (
    <Line>
      <Button onPress={() => input.current?.click()}>{words.bringInAMask}</Button>
      <Small>{words.greyWhiteForThePartOf}</Small>
      <FileInput refer={input} label={picks.maskFile} onFile={(f) => void bring(f)} />
    </Line>
  );
}

