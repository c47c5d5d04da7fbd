import { useCallback, useRef } from "react";
import styled, { css } from "styled-components";
import { api, explain, unwrap, type Areas, type Edge, type Part, type Pick } from "../../api/client";
import { Button, Heading, Key, Notice, NumberRow, Segmented, Toggle } from "../../look/controls";
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
    <svg width="28" height="16" viewBox="0 0 30 17" aria-hidden style={{ flex: "none" }}>
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
  picture: { id: string; depth: boolean };
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
    <NumberRow label={label} value={edge[key] ?? 0} min={min} max={max} step={step} initial={0} signed={signed} unit="px" onDrag={(v) => p.onEdge(label.toLowerCase(), { ...edge, [key]: v }, false)} onRest={(v) => p.onEdge(label.toLowerCase(), { ...edge, [key]: v }, true)} />
  );
  return (
    <Face>
      {p.children}
      <Kinds role="group" aria-label="Kind of pick">
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
      <Joins role="group" aria-label="How the next pick joins">
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
          <Heading>Edge</Heading>
          {row("Feather", "feather", 0, 40, 0.1)}
          {row("Grow, shrink", "grow", -10, 10, 0.1, true)}
          {row("Smooth", "smooth", 0, 20, 0.5)}
          {row("Tidy to edges", "tidy", 0, 20, 1)}
          <Line>
            <Button onPress={p.onWalk}>Check the edge at 100 % <Key>N</Key></Button>
            <Button onPress={() => save(p.picture.id, part)}>Save mask</Button>
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
  const size = <NumberRow label="Size" value={o.size} min={2} max={400} initial={36} unit="px" onDrag={(v) => set({ size: v })} onRest={(v) => set({ size: v })} />;
  switch (p.tool) {
    case "sweep":
      return (
        <>
          {size}
          <NumberRow label="Reach" value={o.reach} min={-reachSteps} max={reachSteps} step={1} initial={0} signed onDrag={(v) => how.setReach(v, false)} onRest={(v) => how.setReach(v)} />
          <Small>Tighter or wider than the answer given: the petal, the flower, the bunch. <Key>,</Key> <Key>.</Key></Small>
        </>
      );
    case "brush":
      return (
        <>
          {size}
          {(["softness", "strength", "flow"] as const).map((k) => (
            <NumberRow key={k} label={k === "softness" ? "Softness" : k === "strength" ? "Strength" : "Flow"} value={o[k]} min={k === "softness" ? 0 : 1} max={100} initial={k === "softness" ? 15 : 100} unit="%" onDrag={(v) => set({ [k]: v })} onRest={(v) => set({ [k]: v })} />
          ))}
          <Toggle on={o.limit} onChange={(limit) => set({ limit })}>Keep to edges <Key>E</Key></Toggle>
        </>
      );
    case "like":
      return (
        <>
          <NumberRow
            label="Tolerance"
            value={pick?.tolerance ?? o.tolerance}
            min={0}
            max={60}
            step={0.1}
            initial={12}
            unit="ΔE"
            onDrag={(v) => { set({ tolerance: v }); how.setPick("tolerance", { tolerance: v }, false); }}
            onRest={(v) => { set({ tolerance: v }); how.setPick("tolerance", { tolerance: v }); }}
          />
          <NumberRow
            label="Light and shade"
            value={pick ? (pick.light ?? 0) : o.light}
            min={0}
            max={100}
            step={1}
            initial={0}
            unit="L*"
            onDrag={(v) => { set({ light: v }); how.setPick("light and shade", { light: v }, false); }}
            onRest={(v) => { set({ light: v }); how.setPick("light and shade", { light: v }); }}
          />
          <Toggle on={pick ? !!pick.connected : o.connected} onChange={(connected) => { set({ connected }); how.setPick(connected ? "connected only" : "everywhere", { connected }); }}>Only what is connected to the samples</Toggle>
        </>
      );
    case "outline":
      return (
        <>
          <Line><Segmented small label="How the outline is drawn" value={o.byHand ? "hand" : "nodes"} onChange={(v) => set({ byHand: v === "hand" })} options={[["nodes", "Node by node"], ["hand", "By hand"]]} /></Line>
          <Toggle on={pick ? !!pick.snap : o.snap} onChange={(snap) => { set({ snap }); how.setPick(snap ? "snap to edges" : "as drawn", { snap }); }}>Snap to the edges of the picture</Toggle>
          {how.drawing || how.nodes ? (
            <Line>
              <Button isDisabled={!how.drawing} onPress={how.closeOutline}>Close the outline</Button>
              <Small>{how.nodes ? "Three nodes make an outline." : o.byHand ? "Draw on, click for a straight piece, or come back to its first node." : "Or click its first node."}</Small>
            </Line>
          ) : pick ? (
            <Small>Drag nodes and handles. Click the line to add a node; double-click one to make it smooth or sharp; Delete removes it; Alt breaks its handles.</Small>
          ) : null}
        </>
      );
    case "marks":
      return (
        <>
          {size}
          <Small>{how.ring ? "Now a stroke inside the thing." : pick ? "Strokes mend it: inside as they are, outside with Alt." : "First a loose ring around the thing, hair and fringe included."}</Small>
          {pick && <Line><Button onPress={how.newRing}>New ring</Button></Line>}
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
            <Segmented small label="What is meant" value={String(Math.min(at, sure.length - 1))} onChange={(v) => p.how.setPick("another subject", { candidate: Number(v) || undefined })} options={sure.map((_, i) => [String(i), ["First", "Second", "Third", "Fourth"][i] ?? String(i + 1)] as const)} />
            <Small><Key>U</Key> offers the next</Small>
          </Line>
          {sure[at] && !sure[at].unsure && <Small>It stands out clearly.</Small>}
        </>
      ) : (
        <Line><Button onPress={() => p.how.addPick("find the subject", { kind: "subject", join: p.how.options.join })}>Find the subject</Button></Line>
      )}
      {sure?.[at]?.unsure && <Notice>{pick ? "This one does not stand out clearly: it may be wrong. Check it, or look at the others." : "Nothing stands out clearly in this picture: what is found may be wrong. Check it, and narrow it with another pick."}</Notice>}
    </>
  );
}

function DepthMissing(p: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Notice>
      <p>This picture has no depth map, so near and far cannot be told apart. A phone’s portrait JPEG may carry one and is read when the picture is brought in; or bring one in: a grey PNG or TIFF of the same proportions, white near.</p>
      <Button onPress={() => input.current?.click()}>Bring in a depth map</Button>
      <FileInput refer={input} label="Depth map file" onFile={p.onDepth} />
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
  depth: { label: "Depth", min: 0, max: 1, step: 0.01, soft: [0, 0.3, 0.01, 0.03], from: 0.5, to: 1, wraps: false, low: "Far limit", high: "Near limit" },
  hues: { label: "Hues", min: 0, max: 360, step: 1, soft: [0, 60, 1, 12], from: 340, to: 20, wraps: true, low: "From hue", high: "To hue" },
  tones: { label: "Tones", min: 0, max: 100, step: 1, soft: [0, 40, 1, 8], from: 0, to: 35, wraps: false, low: "From tone", high: "To tone" },
} as const;

function BandOptions(p: Props & { of: "depth" | "hues" | "tones" }) {
  const b = bands[p.of];
  const { how, of } = p;
  const pick = how.pick;
  const bins = useLatest(`${p.picture.id} ${p.picture.depth}`, useCallback((_: string, signal: AbortSignal) => unwrap(api.GET("/api/pictures/{picture}/histogram", { params: { path: { picture: p.picture.id }, query: { of } }, signal })), [p.picture.id, of]));
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
      {of !== "depth" && <Line><Segmented small label="Hues or tones" value={of} onChange={(k) => p.onTool(k)} options={[["hues", "Hues"], ["tones", "Tones"]]} /></Line>}
      <Band label={b.label} bins={bins} min={b.min} max={b.max} step={b.step} wraps={b.wraps} {...now} onBand={(from, to, done) => put(`band of ${of}`, { from, to }, done)} />
      {number(b.low, "from", b.from)}
      {number(b.high, "to", b.to)}
      <NumberRow label="Soft ends" value={now.soft} min={softMin} max={softMax} step={softStep} initial={softDefault} onDrag={(v) => put("soft ends", { soft: v }, false)} onRest={(v) => put("soft ends", { soft: v }, true)} />
      {of === "hues" && (
        <Line>
          <Button onPress={() => how.addPick("take skin away", { kind: "hues", join: "subtract", from: 28, to: 72, soft: 8 })}>Take skin away</Button>
          <Small>a ready band of hues</Small>
        </Line>
      )}
      {of === "depth" && <Line><Button onPress={() => p.onDepth(null)}>Take the depth map out</Button></Line>}
    </>
  );
}

function PartOptions(p: Props) {
  const others = p.parts.filter((q) => q.id !== p.part?.id && q.picks.length > 0);
  if (others.length === 0) return <Small>There is no other part yet whose mask could be reused.</Small>;
  return (
    <Line role="group" aria-label="Parts to reuse">
      {others.map((q) => (
        <Other key={q.id} onPress={() => p.how.addPick(`reuse ${q.name}`, { kind: "part", join: p.how.options.join, part: q.id })}>{q.name}</Other>
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
      p.how.addPick(`mask ${f.name}`, { kind: "mask", join: p.how.options.join, file });
    } catch (e) {
      p.onProblem(explain(e));
    }
  };
  return (
    <Line>
      <Button onPress={() => input.current?.click()}>Bring in a mask</Button>
      <Small>grey, white for the part, of the picture’s size</Small>
      <FileInput refer={input} label="Mask file" onFile={(f) => void bring(f)} />
    </Line>
  );
}

