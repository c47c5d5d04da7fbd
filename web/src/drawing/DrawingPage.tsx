import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import styled from "styled-components";
import { api, explain, unwrap, type Colourway, type Document, type Family, type Part, type ShownDrawing } from "../api/client";
import { bringing } from "../api/draft";
import { keyOf, same } from "../api/identity";
import { DeliverDialog } from "../bench/DeliverDialog";
import { Told } from "../bench/Told";
import { useDocument } from "../bench/useDocument";
import { useKeys } from "../bench/useKeys";
import { useLatest } from "../bench/useLatest";
import { freshName, inColourway, inPalette, movedCells, rowOf, withCell } from "../colourways";
import { useJob } from "../job/useJob";
import { Looking } from "../bench/colour/looking";
import { Column, FootLine, Page, Waiting } from "../look/Bench";
import { Button, Key, Notice, NumberRow, Segmented, Space } from "../look/controls";
import { Dialog } from "../look/Dialog";
import { Field, Select } from "../look/Field";
import { later } from "../look/later";
import { useStable } from "../look/useStable";
import { go } from "../router";
import { flatSize } from "./flat";
import { DrawingBar } from "./DrawingBar";
import { DrawingProof } from "./DrawingProof";
import { DrawingStage, type DrawingStageHandle } from "./DrawingStage";
import { moved, regathered, withFamily } from "./families";
import { FamilyFace } from "./FamilyFace";
import { FamilyList } from "./FamilyList";
import { many } from "./useLive";

const Faces = later(() => import("../look/Faces").then((m) => m.Faces<"colour" | "proof">));

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 9px 14px 5px;
`;

type Prop = "" | "fill" | "stroke";

/** Where a drawing is worked on: its colours, gathered into families, get new ones. */
export function DrawingPage({ id }: { id: string }) {
  const queries = useQueryClient();
  const doc = useDocument(id);
  const { picture, edit, move } = doc;
  const job = useJob(picture?.job ?? "");
  const inks = job.job?.inks;
  const chosenFor = useMemo(() => ({ job: picture?.job, inks }), [picture?.job, inks]);
  const editJob = job.edit;
  const drawing = useQuery({ queryKey: ["drawing", id], staleTime: Infinity, queryFn: () => unwrap(api.GET("/api/pictures/{picture}/drawing", { params: { path: { picture: id } } })) });
  const [draft, setDraft] = useState<Document>();
  const [at, setAt] = useState<string>();
  const [face, setFace] = useState<"colour" | "proof">("colour");
  const [picked, setPicked] = useState<Set<number>>(new Set());
  const [last, setLast] = useState<string>(); // the colour that was clicked last
  const [tolerance, setTolerance] = useState(0);
  const [prop, setProp] = useState<Prop>("");
  const [board, setBoard] = useState("");
  const [hide, setHide] = useState(false);
  const [holding, setHolding] = useState(false);
  const [split, setSplit] = useState(false);
  const [sampling, setSampling] = useState(false);
  const [zoom, setZoom] = useState(1);
  const [keys, setKeys] = useState(false);
  const [delivering, setDelivering] = useState(false);
  const [problem, setProblem] = useState<string>();
  const [quiet, setQuiet] = useState(false);
  const stage = useRef<DrawingStageHandle>(null);

  const [way, setWay] = useState(() => new URLSearchParams(location.search).get("colourway") ?? "");
  const ways = job.job?.colourways ?? picture?.colourways ?? [];
  const colourway = ways.find((w) => w.id === way);
  const palette = job.stored?.palette;
  const as = useCallback((d: Document, w: Colourway | undefined) => inPalette(inColourway(d, w), palette), [palette]);
  const shownDoc = useMemo(() => as(draft ?? doc.document, colourway), [draft, doc.document, colourway, as]);
  const heavy = !!drawing.data?.source && drawing.data.items.elements.length > many; // painting it takes longer than a hand waits
  const known = useRef<ShownDrawing>(undefined);
  const shown = useLatest<ShownDrawing>(
    picture ? keyOf(shownDoc) : undefined,
    useCallback(async (_, signal) => {
      const had = known.current;
      const s = await unwrap(bringing(id, shownDoc, (b) => api.POST("/api/pictures/{picture}/drawing/shown", { params: { path: { picture: id } }, body: { ...b, members: had?.members }, signal }))).catch((e: unknown) => {
        setProblem(explain(e));
        throw e;
      });
      // What has the same members keeps the very lists, so that the stage need not look at them again.
      const whole = had?.members === s.members ? { ...s, groups: s.groups.map((g, i) => ({ ...g, elements: had.groups[i]?.elements ?? g.elements })) } : s;
      known.current = whole;
      stage.current?.paint(whole); // ahead of all else that shows it
      return whole;
    }, [id, shownDoc]),
    heavy ? 300 : 0,
  );
  const flat = drawing.data?.source === "";
  const [before, setBefore] = useState<ImageData>();
  const view = useCallback(
    async (document: Document, show: "picture" | "before", signal: AbortSignal) => {
      if (!picture) return undefined;
      const [width, height] = flatSize(picture.width, picture.height);
      const data = await unwrap(bringing(id, document, (b) => api.POST("/api/pictures/{picture}/view", { params: { path: { picture: id } }, body: { x: 0, y: 0, w: picture.width, h: picture.height, width, height, show, ...b }, parseAs: "arrayBuffer", signal })));
      return new ImageData(new Uint8ClampedArray(data), width, height);
    },
    [id, picture],
  );
  const now = useLatest(flat && picture ? keyOf(shownDoc) : undefined, useCallback((_, signal) => view(shownDoc, "picture", signal), [view, shownDoc]));
  useEffect(() => {
    if (flat && !before) void view(shownDoc, "before", AbortSignal.timeout(30000)).then(setBefore, (e: unknown) => setProblem(explain(e)));
  }, [flat, before, view, shownDoc]);
  const pixels = useMemo(() => before && { before, now }, [before, now]);
  const parts = shownDoc.parts;
  const part = parts.find((p) => p.id === at) ?? parts.find((p) => !p.family?.held) ?? parts[0];
  const proof = shown?.proofs.find((q) => q.id === part?.id);
  const d = drawing.data;
  const boards = useMemo(() => d?.boards ?? [], [d]);

  const change = (label: string, partId: string, what: Partial<Part>) => {
    const { target, ...rest } = what;
    const p = parts.find((q) => q.id === partId);
    if (colourway && p && target) {
      void editJob(label, (c) => ({ ...c, colourways: c.colourways.map((w) => (w.id === colourway.id ? withCell(w, rowOf(p), { target }) : w)) }));
      if (Object.keys(rest).length === 0 || same(rest.family, p.family)) return;
      what = rest;
    }
    edit(label, (x) => ({ ...x, parts: x.parts.map((q) => (q.id === partId ? { ...q, ...what } : q)) }));
  };
  const family = (label: string, what: Partial<Family>) => {
    setDraft(undefined);
    if (part) edit(label, (x) => withFamily(x, part.id, what));
  };

  const pick = useCallback(
    async (colour: string, how: { shift: boolean; alt: boolean }, tol: number, only: Prop, on: string) => {
      try {
        const r = await unwrap(api.POST("/api/pictures/{picture}/drawing/pick", { params: { path: { picture: id } }, body: { colour, tolerance: tol, ...(only ? { prop: only } : {}), ...(on ? { boards: [on] } : {}) } }));
        setPicked((was) => {
          if (how.alt) return new Set([...was].filter((i) => !r.items.includes(i)));
          return new Set(how.shift ? [...was, ...r.items] : r.items);
        });
        setProblem(undefined);
      } catch (e) {
        setProblem(explain(e));
      }
    },
    [id],
  );
  const click = (item: number, how: { shift: boolean; alt: boolean }) => {
    const colour = d?.colours[d.items.colours[item] ?? 0];
    if (!colour) return;
    if (sampling) {
      setSampling(false);
      if (part?.family) change("sampled colour", part.id, { target: { css: colour }, family: { ...part.family, held: false } });
      return;
    }
    setLast(colour);
    if (!how.alt) setAt(parts.find((q) => q.family?.members.some((m) => m.colour === colour))?.id ?? part?.id);
    void pick(colour, how, tolerance, prop, board);
  };
  const again = (tol: number, only: Prop, on: string) => {
    if (last) void pick(last, { shift: false, alt: false }, tol, only, on);
  };
  const pickedColours = useMemo(() => [...new Set([...picked].map((i) => d?.colours[d.items.colours[i] ?? 0] ?? ""))].filter(Boolean), [picked, d]);
  const where = useMemo(() => {
    const elements = new Set([...picked].map((i) => d?.items.elements[i]));
    return { things: elements.size };
  }, [picked, d]);
  const makeFamily = () => {
    const fresh = crypto.randomUUID();
    edit("family of what is picked", (x) => moved(x, pickedColours, undefined, fresh, { ...(board ? { boards: [board] } : {}), ...(prop ? { prop } : {}) }));
    setAt(fresh);
    setFace("colour");
  };
  const gather = async (n: number) => {
    try {
      const list = await unwrap(api.GET("/api/pictures/{picture}/drawing/families", { params: { path: { picture: id }, query: n > 0 ? { n } : {} } }));
      edit(`${list.length} families`, (x) => regathered(x, list));
      setProblem(undefined);
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const [count, setCount] = useState<number>();
  const intoPalette = (name: string, css: string) => {
    const fresh = crypto.randomUUID();
    void editJob("new colour", (c) => ({ ...c, palette: [...c.palette, { id: fresh, name: freshName(name, c.palette.map((s) => s.name)), css, tolerance: 2 }] }));
  };
  const openImage = async (element: number) => {
    const svg = d && new DOMParser().parseFromString(d.source, "image/svg+xml");
    const el = svg && [svg.documentElement, ...svg.documentElement.querySelectorAll("*")][element];
    const href = el?.getAttribute("href") ?? el?.getAttribute("xlink:href") ?? "";
    const m = /^data:image\/([a-z+]+);base64,(.*)$/s.exec(href);
    if (!m?.[2] || !picture) return;
    try {
      const bytes = Uint8Array.from(atob(m[2].replace(/\s/g, "")), (c) => c.charCodeAt(0));
      const made = await unwrap(api.POST("/api/jobs/{job}/pictures", { params: { path: { job: picture.job }, query: { name: `${picture.name}, embedded.${m[1] ?? "png"}` } }, body: new Blob([bytes]) as unknown as string, bodySerializer: (b) => b as unknown as Blob, headers: { "Content-Type": "application/octet-stream" } }));
      await queries.invalidateQueries({ queryKey: ["job", picture.job] });
      go(`/pictures/${made.id}`);
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const showBoard = (b: string) => {
    setBoard(b);
    again(tolerance, prop, b);
    const box = boards.find((q) => q.id === b)?.box;
    if (box) stage.current?.fitTo(box);
    else stage.current?.fit();
  };
  const next = (by: number) => {
    const i = parts.findIndex((q) => q.id === part?.id);
    setAt(parts[(i + by + parts.length) % parts.length]?.id);
  };

  useKeys(
    {
      "ctrl z": (e) => void move(e.shiftKey ? "redo" : "undo"),
      "0": () => stage.current?.fit(),
      "1": () => stage.current?.zoomTo(picture && d ? picture.width / (d.size[2] ?? picture.width) : 1),
      "+": () => stage.current?.zoomBy(1.25),
      "=": () => stage.current?.zoomBy(1.25),
      "-": () => stage.current?.zoomBy(0.8),
      a: () => stage.current?.fitPicked(),
      h: () => setHide((on) => !on),
      w: () => setSplit((on) => !on),
      c: () => setFace("colour"),
      p: () => setFace("proof"),
      f: () => { if (pickedColours.length > 0) makeFamily(); },
      u: () => { if (part?.family?.main) { setLast(part.family.main); void pick(part.family.main, { shift: false, alt: false }, tolerance, prop, board); } },
      arrowdown: (e) => (e.target instanceof HTMLElement && e.target.dataset.testid === "drawing" ? next(1) : false),
      arrowup: (e) => (e.target instanceof HTMLElement && e.target.dataset.testid === "drawing" ? next(-1) : false),
      "[": () => { const t = Math.max(0, Math.round((tolerance - 1) * 10) / 10); setTolerance(t); again(t, prop, board); },
      "]": () => { const t = Math.min(60, tolerance + 1); setTolerance(t); again(t, prop, board); },
      escape: () => { if (sampling) setSampling(false); else { setPicked(new Set()); setHide(false); } },
      "?": () => setKeys(true),
    },
    { v: setHolding },
  );
  const onMove = useStable((way: "undo" | "redo") => void move(way));
  const onPick = useStable(click);
  const onRename = useStable((p: string, name: string) => {
    const q = doc.document.parts.find((x) => x.id === p);
    if (q && ways.some((w) => w.cells[rowOf(q)])) void editJob("rename family", (c) => ({ ...c, colourways: movedCells(c.colourways, rowOf(q), name) }));
    change("rename family", p, { name, unnamed: undefined });
  });
  const onHold = useStable((p: string, held: boolean) => edit(held ? "hold family" : "let family go", (x) => withFamily(x, p, { held })));
  const onDrop = useStable((to: string, colour: string) => { if (colour.startsWith("#") || colour.startsWith("lab(")) edit("move a colour", (x) => moved(x, [colour], to, "")); });
  const onPart = useStable((label: string, what: Partial<Part>) => { if (part) change(label, part.id, what); });
  const onFamily = useStable(family);
  const onDrag = useStable((what: Partial<Family>) => {
    if (!part) return;
    const next = withFamily(doc.document, part.id, what);
    stage.current?.ahead(as(next, colourway));
    setDraft(next);
  });
  const onDragTarget = useStable((css: string) => {
    if (!part) return;
    const next = { ...doc.document, parts: doc.document.parts.map((q) => (q.id === part.id ? { ...q, target: { css }, ...(q.family ? { family: { ...q.family, held: false } } : {}) } : q)) };
    stage.current?.ahead(as(next, colourway && withCell(colourway, rowOf(part), { target: { css } })));
    setDraft(next);
  });
  const onKeepColour = useStable(() => { if (part?.family) intoPalette(part.name, part.target.css && !part.target.palette_id ? part.target.css : part.family.main); });
  const onSample = useStable(() => setSampling((on) => !on));
  const onMembers = useStable((label: string, members: Family["members"]) => family(label, { members }));
  const onMoveColour = useStable((colour: string, to: string | undefined) => { const fresh = crypto.randomUUID(); edit("move a colour", (x) => moved(x, [colour], to, fresh)); if (!to) setAt(fresh); });
  const onPickColour = useStable((colour: string) => { setLast(colour); void pick(colour, { shift: false, alt: false }, 0, prop, board); });
  // Without families it is a photo again.
  useEffect(() => {
    if (picture && picture.format !== "svg" && doc.saving === "saved" && !doc.document.parts.some((q) => q.family)) void queries.invalidateQueries({ queryKey: ["kind", id] });
  }, [picture, doc.saving, doc.document, queries, id]);
  useEffect(() => {
    document.title = picture ? `${picture.name} · Episema` : "Episema";
    return () => { document.title = "Episema"; };
  }, [picture]);

  if (!picture || !d)
    return <Waiting>{doc.problem || drawing.error ? <Notice strong>{doc.problem ?? explain(drawing.error)}</Notice> : <Notice>Opening the drawing</Notice>}</Waiting>;
  const onBoards = shown?.parts.find((q) => q.id === part?.id)?.boards ?? [];
  return (
    <Looking value={chosenFor}>
    <Page>
      <DrawingBar picture={picture} saving={doc.saving} ways={ways} way={colourway?.id ?? ""} split={split} onWay={setWay} onSplit={setSplit} onMove={onMove} onKeys={setKeys} onDeliver={setDelivering} />
      <DrawingStage ref={stage} picture={picture} drawing={d} heavy={heavy} document={shownDoc} part={part?.id} shown={shown} pixels={pixels} before={holding} split={split} picked={picked} hide={hide} ground="#8a8a8a" onPick={onPick} onZoom={setZoom} onProblem={setProblem} />
      <Column aria-label="Families and their colours">
        <Head>
          <h2>Families</h2>
          {flat && <Button $kind="quiet" onPress={() => { edit("work on it as a photo", (x) => ({ ...x, parts: x.parts.filter((q) => !q.family) })); }} style={{ padding: "1px 6px" }}>As a photo</Button>}
          <Button $kind="quiet" onPress={() => void gather(0)} style={{ padding: "1px 6px" }}>Regroup colours</Button>
        </Head>
        <div style={{ padding: "0 14px 4px" }}>
          <NumberRow label="How many" value={count ?? parts.length} min={1} max={Math.max(12, parts.length)} initial={parts.length} onDrag={setCount} onRest={(n) => { setCount(undefined); if (n !== parts.length) void gather(n); }} />
        </div>
        {parts.length === 0 && <p style={{ padding: "0 14px 12px", color: "var(--ink3)" }}>The drawing has no colours of its own.</p>}
        <FamilyList
          parts={parts}
          at={part?.id}
          shown={shown}
          things={!flat}
          onChoose={setAt}
          onRename={onRename}
          onHold={onHold}
          onDrop={onDrop}
        />
        <Faces
          label="Faces of the family"
          at={face}
          onChoose={setFace}
          faces={[
            { id: "colour", name: "Colour", content: (
              <FamilyFace
                part={part}
                parts={parts}
                proof={proof}
                shown={shown}
                palette={job.job?.palette ?? picture.palette}
                onPart={onPart}
                onFamily={onFamily}
                onDrag={onDrag}
                onDragTarget={onDragTarget}
                onMembers={onMembers}
                onMove={onMoveColour}
                onPick={onPickColour}
                onKeepColour={onKeepColour}
                sampling={sampling}
                onSample={onSample}
              />
            ) },
            { id: "proof", name: "Proof", content: (
              <DrawingProof parts={parts} shown={shown} onGo={(element) => { const list = d.items.elements.flatMap((e, i) => (e === element ? [i] : [])); setPicked(new Set(list)); setTimeout(() => stage.current?.fitPicked(), 60); }} />
            ) },
          ]}
        />
      </Column>
      <FootLine>
        <span className="num" style={{ minWidth: 46 }}>{Math.round((100 * zoom * (d.size[2] ?? 1)) / picture.width)} %</span>
        {boards.length > 1 && (
          <Select aria-label="Boards" value={board} onChange={(e) => showBoard(e.target.value)} style={{ maxWidth: 150 }}>
            <option value="">All {boards.length} boards</option>
            {boards.map((b) => <option key={b.id} value={b.id}>{b.name}</option>)}
          </Select>
        )}
        {!flat && <Segmented small label="What is picked" value={prop} onChange={(v) => { setProp(v); again(tolerance, v, board); }} options={[["", "Both"], ["fill", "Fills"], ["stroke", "Strokes"]]} />}
        <span>within</span>
        <Field aria-label="Tolerance, CIEDE2000" key={tolerance} defaultValue={tolerance} size={3} style={{ padding: "1px 4px" }} onBlur={(e) => { const t = Number.parseFloat(e.target.value.replace(",", ".")); if (t >= 0 && t <= 100) { setTolerance(t); again(t, prop, board); } else e.target.value = String(tolerance); }} onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); }} />
        <Space />
        {picked.size > 0 ? (
          <>
            <span className="num" data-testid="picked">{!flat && (where.things === 1 ? "1 thing, " : `${where.things} things, `)}{pickedColours.length === 1 ? "1 colour" : `${pickedColours.length} colours`}{boards.length > 1 && ` · on ${onBoards.length} of ${boards.length} boards`}</span>
            <Button $kind="quiet" aria-pressed={hide} onPress={() => setHide((on) => !on)} style={{ padding: "1px 7px" }}>{hide ? "Show again" : "Hide what is picked"}</Button>
            <Button $kind="quiet" onPress={() => stage.current?.fitPicked()} style={{ padding: "1px 7px" }}>Fit all of it</Button>
            <Button $kind="quiet" onPress={makeFamily} style={{ padding: "1px 7px" }}>Make a family of it</Button>
          </>
        ) : (
          <span>Click a shape: all of its colour is picked. <Key>Shift</Key> adds, <Key>Alt</Key> takes away</span>
        )}
      </FootLine>
      <Told doc={doc} what="drawing" problem={problem} onDismiss={() => setProblem(undefined)}>
        {!quiet && d.left_out.length > 0 && <Notice strong>Left out of the drawing, as it could run or fetch something: {d.left_out.join(", ")}. <Button $kind="quiet" onPress={() => setQuiet(true)}>Dismiss</Button></Notice>}
        {!quiet && d.images.length > 0 && <Notice>{d.images.length === 1 ? "One embedded picture keeps its colours." : `${d.images.length} embedded pictures keep their colours.`} {d.images.slice(0, 3).map((i, n) => <Button key={i} $kind="quiet" onPress={() => void openImage(i)}>{d.images.length === 1 ? "Open it as a photo" : `Open the ${["first", "second", "third"][n] ?? ""} as a photo`}</Button>)} <Button $kind="quiet" onPress={() => setQuiet(true)}>Dismiss</Button></Notice>}
      </Told>
      <Dialog title="Keys" open={keys} onClose={() => setKeys(false)}>
        <dl style={{ display: "grid", gridTemplateColumns: "auto 1fr", gap: "4px 16px", margin: 0, fontSize: 12.5 }}>
          {([["Click", "pick all of a colour; Shift adds, Alt takes away"], ["[ ]", "tolerance of the pick"], ["A", "fit all that is picked"], ["H", "hide what is picked, and show it again"], ["F", "make a family of what is picked"], ["U", "pick the family at hand"], ["↑ ↓", "the family before and after, on the stage"], ["V", "hold: the drawing as it came in"], ["W", "split with before"], ["0 1", "fit, and 100 %"], ["+ −", "zoom; ctrl and the wheel zoom to the pointer"], ["Space", "hold and drag: move the drawing"], ["C P", "Colour, Proof"], ["ctrl Z", "undo; with Shift redo"], ["Esc", "pick nothing"]] as const).map(([k, w]) => [<dt key={`${k}k`} style={{ justifySelf: "end" }}><Key>{k}</Key></dt>, <dd key={k} style={{ margin: 0 }}>{w}</dd>])}
        </dl>
      </Dialog>
      <DeliverDialog picture={picture} colourway={colourway?.id} open={delivering} onClose={() => setDelivering(false)} proof={shown && { parts: shown.proofs, changed_outside: 0 }} />
    </Page>
    </Looking>
  );
}
