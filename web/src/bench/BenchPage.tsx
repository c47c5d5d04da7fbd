import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import styled from "styled-components";
import { api, unwrap, type Document, type Part, type Pick, type Probe, type Proof, type Stroke } from "../api/client";
import { Bar, Brand, Button, Key, Notice, Segmented, Space } from "../look/controls";
import { go } from "../router";
import { DeliverDialog } from "./DeliverDialog";
import { Colour, Isolate, ProofFace, type Brushing } from "./faces";
import { KeysDialog } from "./KeysDialog";
import { Parts } from "./Parts";
import { Stage, type Compare, type Show, type StageHandle, type Tool } from "./Stage";
import { useDocument } from "./useDocument";
import { useLatest } from "./useLatest";

const Page = styled.div`
  display: grid;
  grid-template: 44px 1fr 34px / 1fr 332px;
  height: 100%;
  > header, > footer { grid-column: 1 / 3; }
`;
const Column = styled.aside`
  border-left: 1px solid var(--rule);
  background: var(--card);
  display: flex;
  flex-direction: column;
  min-height: 0;
`;
const Foot = styled.footer`
  border-top: 1px solid var(--rule);
  background: var(--card);
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 14px;
  color: var(--ink2);
  white-space: nowrap;
  overflow: hidden;
`;
const FaceTabs = styled(Tabs)`
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
  border-top: 1px solid var(--rule);
`;
const FaceList = styled(TabList)`
  display: flex;
  background: var(--rail);
  border-bottom: 1px solid var(--rule);
`;
const FaceTab = styled(Tab)`
  flex: 1;
  text-align: center;
  padding: 8px;
  color: var(--ink2);
  cursor: default;
  &[data-selected] { background: var(--card); color: var(--ink); font-weight: 650; box-shadow: inset 0 2px 0 var(--ink); }
  &[data-focus-visible] { outline-offset: -4px; }
`;
const Panel = styled(TabPanel)`
  min-height: 0;
  flex: 1;
  display: flex;
  flex-direction: column;
  outline: none;
`;
const Crumb = styled.nav`
  color: var(--ink2);
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  b { color: var(--ink); font-weight: 600; }
`;
const Banner = styled.div`
  position: absolute;
  z-index: 5;
  left: 14px;
  right: 346px;
  top: 54px;
  display: grid;
  gap: 8px;
  justify-items: start;
  pointer-events: none;
  > * { pointer-events: auto; max-width: 620px; }
`;

type FaceName = "isolate" | "colour" | "proof";

const grounds = { light: "#c6c6c6", middle: "#8a8a8a", dark: "#333333" } as const;

const lch = (l: number[]) => {
  const [L = 0, a = 0, b = 0] = l;
  const h = (Math.atan2(b, a) * 180) / Math.PI;
  return `L ${L.toFixed(1)} C ${Math.hypot(a, b).toFixed(1)} h ${Math.round(h < 0 ? h + 360 : h)}°`;
};

const newId = () => crypto.randomUUID();

/** Where one picture is worked on. */
export function BenchPage({ id }: { id: string }) {
  const doc = useDocument(id);
  const [draft, setDraft] = useState<Document>();
  const [at, setAt] = useState<string>();
  const [face, setFace] = useState<FaceName>("isolate");
  const [tool, setTool] = useState<Tool>("sweep");
  const [show, setShow] = useState<Show>("hatch");
  const [compare, setCompare] = useState<Compare>("now");
  const [holding, setHolding] = useState(false);
  const [brushing, setBrushing] = useState<Brushing>({ size: 36, softness: 15, strength: 100, takeAway: false });
  const [ground, setGround] = useState<keyof typeof grounds>("middle");
  const [zoom, setZoom] = useState(0);
  const [hover, setHover] = useState<{ x: number; y: number }>();
  const [keys, setKeys] = useState(false);
  const [delivering, setDelivering] = useState(false);
  const [stageProblem, setStageProblem] = useState<string>();
  const stage = useRef<StageHandle>(null);
  const target = useRef<{ id: string; name: string } | undefined>(undefined);

  const shown = draft ?? doc.document;
  const part = useMemo(() => shown.parts.find((p) => p.id === at) ?? shown.parts[0], [shown, at]);

  const proof = useLatest<Proof>(
    doc.picture ? JSON.stringify(shown) : undefined,
    useCallback((_, signal) => unwrap(api.POST("/api/pictures/{picture}/proof", { params: { path: { picture: id } }, body: { document: shown }, signal })), [id, shown]),
    draft ? 200 : 0, // the stage comes first while a hand is moving
  );
  const partProof = proof?.parts.find((p) => p.id === part?.id);
  const probe = useLatest<Probe>(
    hover && !draft ? JSON.stringify([Math.floor(hover.x), Math.floor(hover.y), part?.id, doc.picture?.revision]) : undefined,
    useCallback(
      (key, signal) => {
        const [x, y] = JSON.parse(key) as [number, number];
        return unwrap(api.POST("/api/pictures/{picture}/probe", { params: { path: { picture: id } }, body: { x, y, part: part?.id, document: shown }, signal }));
      },
      [id, part?.id, shown],
    ),
  );

  const { edit } = doc;
  const change = useCallback((label: string, partId: string, what: Partial<Part>) => edit(label, (d) => ({ parts: d.parts.map((p) => (p.id === partId ? { ...p, ...what } : p)) })), [edit]);

  /** A document with a stroke joined to the part at hand; without a part, one is made. */
  const withStroke = useCallback(
    (d: Document, stroke: Stroke, takeAway: boolean): Document => {
      const kind = tool === "brush" ? "brush" : "sweep";
      const join = takeAway ? "subtract" : "add";
      const into = d.parts.find((p) => p.id === part?.id);
      target.current ??= into ? { id: into.id, name: into.name } : { id: newId(), name: `Part ${d.parts.length + 1}` };
      const goal = target.current;
      const base: Part = d.parts.find((p) => p.id === goal.id) ?? { ...goal, picks: [], target: {}, settings: { shade_depth: 0, highlights: 100, strength: 100 } };
      const soft = kind === "brush" ? { softness: brushing.softness / 100, strength: brushing.strength / 100 } : {};
      const last = base.picks[base.picks.length - 1];
      const same = last && !last.off && last.kind === kind && last.join === join && (kind === "sweep" || (last.softness === soft.softness && last.strength === soft.strength));
      const picks: Pick[] = same ? [...base.picks.slice(0, -1), { ...last, strokes: [...(last.strokes ?? []), stroke] }] : [...base.picks, { kind, join, ...soft, strokes: [stroke] }];
      const next = { ...base, picks };
      return { parts: into || d.parts.some((p) => p.id === goal.id) ? d.parts.map((p) => (p.id === goal.id ? next : p)) : [...d.parts, next] };
    },
    [tool, part?.id, brushing.softness, brushing.strength],
  );

  const stroke = (s: Stroke, done: boolean, takeAway: boolean) => {
    if (!done) {
      setDraft(withStroke(doc.document, s, takeAway));
      return;
    }
    setDraft(undefined);
    edit(`${tool === "brush" ? "brush" : "sweep"} stroke`, (d) => withStroke(d, s, takeAway));
    if (target.current) setAt(target.current.id);
    target.current = undefined;
  };

  const point = async (x: number, y: number) => {
    if (!part) return;
    if (tool === "match") {
      change("match point", part.id, { match: [Math.round(x), Math.round(y)] });
      setTool("none");
      return;
    }
    const p = await unwrap(api.POST("/api/pictures/{picture}/probe", { params: { path: { picture: id } }, body: { x, y, part: part.id, document: { parts: [] } } }));
    const [l = 0, a = 0, b = 0] = p.was;
    change("sampled colour", part.id, { target: { css: `lab(${l} ${a} ${b})`, tolerance: part.target.tolerance } });
    setTool("none");
  };

  const chooseFace = useCallback((f: FaceName) => {
    setFace(f);
    setTool(f === "isolate" ? "sweep" : "none");
    setShow(f === "isolate" ? "hatch" : "picture");
  }, []);

  const { move } = doc;
  useEffect(() => {
    const typing = (e: KeyboardEvent) => e.target instanceof HTMLInputElement && e.target.type === "text";
    const down = (e: KeyboardEvent) => {
      if (typing(e) || document.querySelector("[role=dialog]")) return;
      const k = e.key.toLowerCase();
      if ((e.ctrlKey || e.metaKey) && k === "z") {
        e.preventDefault();
        void move(e.shiftKey ? "redo" : "undo");
        return;
      }
      if (e.ctrlKey || e.metaKey) return;
      const act: Record<string, () => void> = {
        v: () => setHolding(true),
        s: () => { chooseFace("isolate"); setTool("sweep"); },
        b: () => { chooseFace("isolate"); setTool("brush"); },
        i: () => chooseFace("isolate"),
        c: () => chooseFace("colour"),
        p: () => chooseFace("proof"),
        x: () => setBrushing((b) => ({ ...b, takeAway: !b.takeAway })),
        "[": () => setBrushing((b) => ({ ...b, size: Math.max(2, Math.round(b.size / 1.2)) })),
        "]": () => setBrushing((b) => ({ ...b, size: Math.min(400, Math.max(b.size + 1, Math.round(b.size * 1.2))) })),
        "0": () => stage.current?.fit(),
        "1": () => stage.current?.zoomTo(1),
        "+": () => stage.current?.zoomBy(1.25),
        "=": () => stage.current?.zoomBy(1.25),
        "-": () => stage.current?.zoomBy(0.8),
        "?": () => setKeys(true),
        escape: () => setTool((t) => (t === "sample" || t === "match" ? "none" : t)),
        w: () => setCompare((c) => (c === "split" ? "now" : "split")),
      };
      const f = act[k];
      if (f && !(e.repeat && (k === "v" || k === "x"))) {
        e.preventDefault();
        f();
      }
    };
    const up = (e: KeyboardEvent) => {
      if (e.key.toLowerCase() === "v") setHolding(false);
    };
    const lost = () => setHolding(false);
    addEventListener("keydown", down);
    addEventListener("keyup", up);
    addEventListener("blur", lost);
    return () => {
      removeEventListener("keydown", down);
      removeEventListener("keyup", up);
      removeEventListener("blur", lost);
    };
  }, [move, chooseFace]);

  const { picture } = doc;
  useEffect(() => {
    document.title = picture ? `${picture.name} · Episema` : "Episema";
    return () => {
      document.title = "Episema";
    };
  }, [picture]);

  if (!picture)
    return (
      <div style={{ padding: 24 }}>{doc.problem ? <Notice strong>{doc.problem}</Notice> : <Notice>Opening the picture</Notice>}</div>
    );
  const named = picture.palette.find((s) => s.id === part?.target.palette_id);
  const hint =
    tool === "sample" ? <>Click the colour to take. <Key>Esc</Key> leaves it.</>
    : tool === "match" ? <>Click where the target must be met. <Key>Esc</Key> leaves it.</>
    : face === "isolate" && (part?.picks.length ?? 0) === 0 && !draft ? <>Drag inside the thing; it grows to the edges. Hold <Key>Alt</Key> to take away, <Key>[</Key> <Key>]</Key> size</>
    : compare === "split" ? <>Drag the bar to wipe. Hold <Key>V</Key> to see the picture as it came in.</>
    : undefined;
  return (
    <Page>
      <Bar>
        <Brand onGo={(e) => { e.preventDefault(); go("/"); }} />
        <Crumb aria-label="Where you are">
          <a href={`/jobs/${picture.job}`} onClick={(e) => { e.preventDefault(); go(`/jobs/${picture.job}`); }}>{picture.job_name}</a> / <b title={picture.name}>{picture.name}</b>
        </Crumb>
        <Space />
        <span className="num" role="status" aria-live="polite" style={{ color: "var(--ink3)", whiteSpace: "nowrap" }} data-saving={doc.saving}>
          {doc.saving === "saved" ? "saved" : doc.saving === "saving" ? "saving" : "not saved yet"}
        </span>
        <Segmented label="Compare" value={compare} onChange={setCompare} options={[["now", "Now"], ["split", "Split"]]} />
        <span style={{ display: "flex" }}>
          <Button $kind="quiet" aria-label={picture.undo ? `Undo ${picture.undo}` : "Undo"} isDisabled={!picture.undo} onPress={() => void move("undo")}>
            <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden><path d="M5.5 3 2.5 6l3 3M3 6h6.5a3.5 3.5 0 0 1 0 7H7" fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinecap="round" strokeLinejoin="round" /></svg>
          </Button>
          <Button $kind="quiet" aria-label={picture.redo ? `Redo ${picture.redo}` : "Redo"} isDisabled={!picture.redo} onPress={() => void move("redo")}>
            <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden><path d="m10.5 3 3 3-3 3M13 6H6.500a3.500 3.500 0 0 0 0 7H9" fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinecap="round" strokeLinejoin="round" /></svg>
          </Button>
          <Button $kind="quiet" aria-label="Keys" onPress={() => setKeys(true)}>?</Button>
        </span>
        <Button $kind="solid" onPress={() => setDelivering(true)}>Deliver</Button>
      </Bar>
      <Stage
        ref={stage}
        picture={picture}
        document={shown}
        part={part?.id ?? target.current?.id}
        show={show}
        compare={compare}
        holding={holding}
        label={named?.name ?? "Now"}
        tool={tool}
        size={brushing.size}
        takeAway={brushing.takeAway}
        ground={grounds[ground]}
        hint={hint}
        onStroke={stroke}
        onPoint={(x, y) => void point(x, y)}
        onHover={setHover}
        onZoom={setZoom}
        onProblem={setStageProblem}
      />
      <Column aria-label="Parts and their settings">
        <Parts
          parts={shown.parts}
          at={part?.id}
          proof={proof}
          onChoose={setAt}
          onAdd={() => {
            const p: Part = { id: newId(), name: `Part ${doc.document.parts.length + 1}`, picks: [], target: {}, settings: { shade_depth: 0, highlights: 100, strength: 100 } };
            edit("new part", (d) => ({ parts: [...d.parts, p] }));
            setAt(p.id);
            chooseFace("isolate");
          }}
          onRename={(p, name) => change("rename part", p, { name })}
          onHide={(p, hidden) => change(hidden ? "leave part for now" : "paint part again", p, { hidden })}
          onDelete={(p) => edit("delete part", (d) => ({ parts: d.parts.filter((q) => q.id !== p) }))}
        />
        <FaceTabs selectedKey={face} onSelectionChange={(k) => chooseFace(k as FaceName)}>
          <FaceList aria-label="Faces of the part">
            <FaceTab id="isolate">Isolate</FaceTab>
            <FaceTab id="colour">Colour</FaceTab>
            <FaceTab id="proof">Proof</FaceTab>
          </FaceList>
          <Panel id="isolate">
            <Isolate part={part} tool={tool} brushing={brushing} onTool={setTool} onBrushing={(b) => setBrushing((o) => ({ ...o, ...b }))} onPicks={(label, picks) => { if (part) change(label, part.id, { picks }); }} />
          </Panel>
          <Panel id="colour">
            <Colour
              part={part}
              proof={partProof}
              palette={picture.palette}
              tool={tool}
              onTool={setTool}
              onPart={(label, what) => {
                setDraft(undefined);
                if (part) change(label, part.id, what);
              }}
              onDrag={(settings) => setDraft({ parts: doc.document.parts.map((p) => (p.id === part?.id ? { ...p, settings } : p)) })}
            />
          </Panel>
          <Panel id="proof">
            <ProofFace part={part} proof={partProof} outside={proof?.changed_outside} tool={tool} onTool={setTool} onPart={(label, what) => { if (part) change(label, part.id, what); }} />
          </Panel>
        </FaceTabs>
      </Column>
      <Foot>
        <span className="num" style={{ minWidth: 46 }}>{zoom < 9.95 ? zoom.toFixed(1) : Math.round(zoom)} %</span>
        <Segmented small label="What the stage shows" value={show} onChange={setShow} options={[["picture", "Picture"], ["hatch", "Hatch"], ["tint", "Tint"], ["mask", "Mask"]]} />
        <Segmented small label="Grey around the picture" value={ground} onChange={setGround} options={[["light", "Light"], ["middle", "Middle"], ["dark", "Dark"]]} />
        <Space />
        {hover && (
          <span className="num" data-testid="readout">
            x {Math.floor(hover.x)} y {Math.floor(hover.y)}
            {probe && ` · was ${lch(probe.was)} → ${lch(probe.is)}`}
            {probe?.distance !== undefined && ` · ΔE to target ${probe.distance.toFixed(1)}`}
          </span>
        )}
      </Foot>
      <Banner>
        {doc.theirs && (
          <Notice strong>
            <p style={{ marginBottom: 7 }}>This picture was changed elsewhere while you worked on it. Yours is not stored yet; nothing is lost.</p>
            <span style={{ display: "flex", gap: 6 }}>
              <Button $kind="solid" onPress={() => doc.settle(true)}>Keep mine, theirs as an undo step</Button>
              <Button onPress={() => doc.settle(false)}>Take theirs</Button>
            </span>
          </Notice>
        )}
        {doc.saving === "offline" && <Notice strong>The server does not answer. Your edits are kept here and stored as soon as it does.</Notice>}
        {doc.problem && doc.saving !== "offline" && (
          <Notice strong>
            {doc.problem} <Button $kind="quiet" onPress={doc.clearProblem}>Dismiss</Button>
          </Notice>
        )}
        {stageProblem && doc.saving !== "offline" && <Notice>{stageProblem}</Notice>}
      </Banner>
      <KeysDialog open={keys} onClose={() => setKeys(false)} />
      <DeliverDialog picture={picture} open={delivering} onClose={() => setDelivering(false)} proof={proof} />
    </Page>
  );
}
