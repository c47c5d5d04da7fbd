import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { freshName, inColourway, inPalette, movedCells, rowOf, withCell } from "../colourways";
import { useJob } from "../job/useJob";
import { Looking } from "./colour/looking";
import { Select } from "../look/Field";
import { api, explain, unwrap, type Areas, type Close, type Colourway, type Document, type Edge, type Part, type Probe, type Proof } from "../api/client";
import { bringing } from "../api/draft";
import { keyOf, same } from "../api/identity";
import { Banner, Column, Page } from "../look/Bench";
import { Bar, Button, Key, Notice, Segmented } from "../look/controls";
import { useFirstLookOver } from "../firstLook";
import { later } from "../look/later";
import { Once } from "../look/Once";
import { useTitle } from "../look/useTitle";
import { UndoRedo } from "../look/UndoRedo";
import { Where } from "../look/Where";
import type { Compare } from "./comparing";
import { Foot, grounds, inkOf, type GroundName, type InkView, type Tint } from "./Foot";
import { isKind, kinds, type Kind } from "./isolate/kinds";
import { reachSteps, subjects, type Gesture } from "./isolate/gestures";
import { useIsolate } from "./isolate/useIsolate";
import { cutPart, placed, unplaced, unplacedStroke } from "./copies/copies";
import { useCopy } from "./copies/useCopy";
import { follow, movedBy, onlyColours, pushedBy, relaid, takenOut } from "./pattern/patterns";
import { sourceOf } from "./patch/patches";
import { usePatch } from "./patch/usePatch";
import { useMend } from "./useMend";
import { Parts } from "./Parts";
import { newPart, nextName, restOf, withoutPart } from "./parts";
import { Stage, type Show, type StageHandle, type Tool } from "./Stage";
import { onto } from "./recipes/recipes";
import { useDocument } from "./useDocument";
import { useKeys } from "./useKeys";
import { useLatest } from "./useLatest";

const Faces = later(() => import("../look/Faces").then((m) => m.Faces<FaceName>));
const Isolate = later(() => import("./isolate/Isolate").then((m) => m.Isolate));
const CopyBox = later(() => import("./copies/CopyBox").then((m) => m.CopyBox));
const CarryDialog = later(() => import("./CarryDialog").then((m) => m.CarryDialog));
const DeliverDialog = later(() => import("./DeliverDialog").then((m) => m.DeliverDialog));
const KeysDialog = later(() => import("./KeysDialog").then((m) => m.KeysDialog));
const ColourFace = later(() => import("./colour/ColourFace").then((m) => m.ColourFace));
const ProofFace = later(() => import("./proof/ProofFace").then((m) => m.ProofFace));

type FaceName = "isolate" | "colour" | "proof";

/** Where one picture is worked on. */
export function BenchPage({ id }: { id: string }) {
  const doc = useDocument(id);
  const [draft, setDraftOnly] = useState<Document>();
  const [draftIsWay, setDraftIsWay] = useState(false); // the draft has a colourway's targets in it already
  const setDraft = useCallback((d: Document | undefined) => { setDraftOnly(d); setDraftIsWay(false); }, []);
  const [at, setAt] = useState<string>();
  const [face, setFace] = useState<FaceName>("isolate");
  const [tool, setTool] = useState<Tool>("sweep");
  const [show, setShow] = useState<Show>("hatch");
  const [compare, setCompare] = useState<Compare>("now");
  const [holding, setHolding] = useState(false);
  const [loupe, setLoupe] = useState(false);
  const [ground, setGround] = useState<GroundName>("middle");
  const [tint, setTint] = useState<Tint>({ colour: "#8a8a8a", strength: 78 });
  const [area, setArea] = useState<Areas["list"][number]>();
  const [walk, setWalk] = useState<{ stops: number[][]; at: number }>();
  const [zoom, setZoom] = useState(0);
  const [hover, setHover] = useState<{ x: number; y: number }>();
  const [keys, setKeys] = useState(false);
  const [delivering, setDelivering] = useState(false);
  const [carrying, setCarrying] = useState(false);
  const [stageProblem, setStageProblem] = useState<string>();
  const stage = useRef<StageHandle>(null);

  // In a colourway the parts' targets are its own; everything else is the picture's.
  const [way, setWay] = useState(() => new URLSearchParams(location.search).get("colourway") ?? "");
  const job = useJob(doc.picture?.job ?? "");
  const [against, setAgainst] = useState("before");
  const recipes = job.job?.recipes ?? [];
  const inks = job.job?.inks;
  const [ink, setInk] = useState<InkView>("");
  const chosenFor = useMemo(() => ({ picture: doc.picture?.id, job: doc.picture?.job, inks }), [doc.picture?.id, doc.picture?.job, inks]);
  const inkView = useMemo(() => inkOf(inks ? ink : ""), [inks, ink]);
  const ways = useMemo(() => job.job?.colourways ?? doc.picture?.colourways ?? [], [job.job?.colourways, doc.picture?.colourways]);
  const colourway = ways.find((w) => w.id === way);
  const facing = ways.find((w) => w.id === against);
  const palette = job.stored?.palette; // that the server has: what is rendered follows it
  const as = useCallback((d: Document, w: Colourway | undefined) => inPalette(inColourway(d, w), palette), [palette]);
  const opposite = useMemo(() => (against === "before" ? undefined : { document: as(doc.document, facing), label: facing?.name ?? "As set" }), [against, doc.document, facing, as]);
  const base = useMemo(() => as(doc.document, colourway), [doc.document, colourway, as]);
  const shown = useMemo(() => (draft ? as(draft, draftIsWay ? undefined : colourway) : base), [draft, draftIsWay, colourway, base, as]);
  const part = useMemo(() => shown.parts.find((p) => p.id === at) ?? shown.parts[0], [shown, at]);

  const roughly = tool === "sweep" || tool === "marks" || tool === "outline"; // what takes long to work out exactly
  const seen = useFirstLookOver(); // the picture comes before what is said of it
  const proof = useLatest<Proof>(
    doc.picture && seen ? keyOf(shown) : undefined,
    useCallback((_, signal) => unwrap(bringing(id, shown, (b) => api.POST("/api/pictures/{picture}/proof", { params: { path: { picture: id } }, body: { ...b }, signal }))), [id, shown]),
    draft ? 200 : 0, // the stage comes first while a hand is moving
  );
  const partProof = proof?.parts.find((p) => p.id === part?.id);
  const probe = useLatest<Probe>(
    hover && !draft ? JSON.stringify([Math.floor(hover.x), Math.floor(hover.y), part?.id, doc.picture?.revision]) : undefined,
    useCallback(
      (key, signal) => {
        const [x, y] = JSON.parse(key) as [number, number];
        return unwrap(bringing(id, shown, (b) => api.POST("/api/pictures/{picture}/probe", { params: { path: { picture: id } }, body: { x, y, part: part?.id, ...b }, signal })));
      },
      [id, part?.id, shown],
    ),
  );

  const { edit } = doc;
  const editJob = job.edit;
  const change = useCallback(
    (label: string, partId: string, what: Partial<Part>) => {
      const { target, settings, ...rest } = what;
      const at = base.parts.find((p) => p.id === partId);
      if (colourway && at && ("target" in what || "settings" in what)) {
        // A target or a method chosen in a colourway is the colourway's.
        const own = doc.document.parts.find((p) => p.id === partId)?.settings;
        const next = settings ?? colourway.cells[rowOf(at)]?.settings;
        void editJob(label, (c) => ({ ...c, colourways: c.colourways.map((w) => (w.id === colourway.id ? withCell(w, rowOf(at), { target: target ?? at.target, settings: next && !same(next, own) ? next : undefined }) : w)) }));
        if (Object.keys(rest).length === 0) return;
        what = rest;
      }
      const had = at?.pattern?.colours;
      if (at && had && what.pattern && what.pattern.colours.length < had.length && ways.some((w) => w.cells[rowOf(at)]?.pattern)) {
        // Every colourway lets go of its colour in that place.
        const gone = takenOut(had, what.pattern.colours);
        void editJob(label, (c) => ({ ...c, colourways: c.colourways.map((w) => {
          const cell = w.cells[rowOf(at)];
          return cell?.pattern ? withCell(w, rowOf(at), { ...cell, pattern: cell.pattern.filter((_, i) => i !== gone) }) : w;
        }) }));
      }
      if (colourway && at && what.pattern) {
        // So are the colours of its pattern; how it lies is the picture's.
        const own = doc.document.parts.find((p) => p.id === partId)?.pattern;
        const { colours, lay } = what.pattern;
        if (onlyColours(at.pattern, what.pattern) && own?.colours.length === colours.length) {
          void editJob(label, (c) => ({ ...c, colourways: c.colourways.map((w) => (w.id === colourway.id ? withCell(w, rowOf(at), { target: at.target, settings: w.cells[rowOf(at)]?.settings, pattern: colours }) : w)) }));
          return;
        }
        what = { ...what, pattern: { lay, colours: follow(own?.colours ?? [], had ?? [], colours) } };
      }
      edit(label, (d) => ({ ...d, parts: d.parts.map((p) => (p.id === partId ? { ...p, ...what } : p)) }));
    },
    [edit, editJob, colourway, base, doc.document, ways],
  );

  const preview = useCallback((d?: Document, at?: string) => stage.current?.preview(d && as(d, colourway), at), [colourway, as]);
  const how = useIsolate({ picture: id, document: doc.document, part, tool, edit, setDraft, preview, setAt, onProblem: setStageProblem });

  const [width, height] = [doc.picture?.width ?? 0, doc.picture?.height ?? 0];
  const whole = useMemo(() => ({ id, width, height }), [id, width, height]);
  const patching = usePatch({ picture: whole, document: doc.document, edit, preview, onProblem: setStageProblem });
  const onSet = useCallback((copy: string) => {
    setAt(copy);
    setFace("isolate");
    setShow("picture");
    setTool("copy");
  }, []);
  const copying = useCopy({ picture: whole, document: doc.document, part, edit, preview, onSet, onProblem: setStageProblem });
  useEffect(() => { if (!part?.copy) setTool((t) => (t === "copy" ? "none" : t)); }, [part?.copy]);
  const mend = useMend({ document: doc.document, part, edit, preview });

  const [pushSize, setPushSize] = useState(130);

  /** Brushes the rebuilding of the part away. */
  const away = (g: Gesture) => {
    if (g.kind !== "stroke" || !part?.settings.rebuild) return;
    const { rebuild } = part.settings;
    const settings = { ...part.settings, rebuild: { ...rebuild, away: [...(rebuild.away ?? []), g.stroke] } };
    const next = (d: Document): Document => ({ ...d, parts: d.parts.map((q) => (q.id === part.id ? { ...q, settings } : q)) });
    if (g.done) {
      preview();
      edit("brush the rebuilding away", next);
    } else preview(next(doc.document), part.id);
  };

  /** Moves the pattern of the part on the picture, or pushes what is under the tip. */
  const movePattern = (g: Gesture) => {
    if (g.kind !== "stroke" || !part?.pattern) return;
    const stroke = unplacedStroke(part.copy, g.stroke); // the pattern of a copy lies on its original
    const [first, last] = [stroke.points[0], stroke.points.at(-1)];
    if (!first || !last) return;
    const lay = tool === "push" ? pushedBy(part.pattern.lay, stroke) : movedBy(part.pattern.lay, first as [number, number], last as [number, number]);
    if (g.done) {
      preview();
      if (lay !== part.pattern.lay) edit(tool === "push" ? "push the pattern" : "move the pattern", (d) => relaid(d, part.id, lay));
    } else preview(relaid(doc.document, part.id, lay), part.id);
  };
  const setCorners = (nodes: { p: number[] }[], done: boolean) => {
    if (!part?.pattern || nodes.length !== 4) return;
    const lay = { ...part.pattern.lay, corners: nodes.map((n) => unplaced(part.copy, n.p as [number, number])) };
    setDraft(done ? undefined : relaid(doc.document, part.id, lay));
    if (done) edit("a corner of the pattern", (d) => relaid(d, part.id, lay));
  };

  // Separate areas are looked for once a mask has rested: over the whole picture that takes a moment.
  const areas = useLatest<Areas>(
    face === "isolate" && part && part.picks.length > 0 && !draft ? keyOf([part.id, shown.parts.map((q) => [q.picks, q.edge])]) : undefined,
    useCallback((_, signal) => unwrap(bringing(id, shown, (b) => api.POST("/api/pictures/{picture}/areas", { params: { path: { picture: id } }, body: { part: part?.id ?? "", ...b }, signal }))), [id, part?.id, shown]),
    500,
  );
  const close = useLatest<Close>(
    face === "proof" && part?.target.css && !draft ? keyOf([part.id, shown]) : undefined,
    useCallback((_, signal) => unwrap(bringing(id, shown, (b) => api.POST("/api/pictures/{picture}/closely", { params: { path: { picture: id } }, body: { part: part?.id ?? "", ...b }, signal }))), [id, part?.id, shown]),
    300,
  );
  useEffect(() => setArea(undefined), [part?.id, part?.picks, part?.edge]);
  useEffect(() => setWalk(undefined), [part?.id, face]);

  const showArea = (a: Areas["list"][number] | undefined) => {
    setArea(a);
    if (!a) return;
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = a.box;
    const s = stage.current?.size() ?? { width: 900, height: 600 };
    stage.current?.goTo((x0 + x1) / 2, (y0 + y1) / 2, Math.min(2, s.width / (3 * (x1 - x0 + 20)), s.height / (3 * (y1 - y0 + 20))));
  };

  /** Walks the whole edge at 100 %, a stage at a time. */
  const step = async (by: number) => {
    if (!part) return;
    let w = walk;
    if (!w) {
      const s = stage.current?.size() ?? { width: 900, height: 600 };
      try {
        const stops = await unwrap(bringing(id, shown, (b) => api.POST("/api/pictures/{picture}/edge-walk", { params: { path: { picture: id } }, body: { part: part.id, w: s.width, h: s.height, ...b } })));
        w = { stops, at: by > 0 ? -1 : 0 };
      } catch (e) {
        setStageProblem(explain(e));
        return;
      }
    }
    if (w.stops.length === 0) {
      setStageProblem("this part has no edge yet");
      return;
    }
    const at = (w.at + by + w.stops.length) % w.stops.length;
    setWalk({ ...w, at });
    const [x = 0, y = 0] = w.stops[at] ?? [];
    stage.current?.goTo(x, y, 1);
  };

  const bringDepth = async (file: File | null) => {
    try {
      const params = { params: { path: { picture: id } } };
      if (file) await unwrap(api.PUT("/api/pictures/{picture}/depth", { ...params, body: file as unknown as string, bodySerializer: (b) => b, headers: { "Content-Type": "application/octet-stream" } }));
      else await unwrap(api.DELETE("/api/pictures/{picture}/depth", params));
      setStageProblem(undefined);
      await doc.refresh();
    } catch (e) {
      setStageProblem(explain(e));
    }
  };

  const setEdge = (label: string, edge: Edge, done: boolean) => {
    if (!part) return;
    const next = (d: Document): Document => ({ ...d, parts: d.parts.map((q) => (q.id === part.id ? { ...q, edge } : q)) });
    if (!done) {
      setDraft(next(doc.document));
      return;
    }
    setDraft(undefined);
    edit(label, next);
  };

  const point = async (x: number, y: number) => {
    if (tool === "grey") {
      edit("grey card", (d) => ({ ...d, grey: { at: [Math.round(x), Math.round(y)], lightness: d.grey?.lightness ?? 50 } }));
      setTool("none");
      return;
    }
    if (!part) return;
    if (tool === "match") {
      change("match point", part.id, { match: [Math.round(x), Math.round(y)] });
      setTool("none");
      return;
    }
    try {
      const p = await unwrap(bringing(id, { parts: [] }, (b) => api.POST("/api/pictures/{picture}/probe", { params: { path: { picture: id } }, body: { x, y, part: part.id, ...b } })));
      const [l = 0, a = 0, b = 0] = p.was;
      change("sampled colour", part.id, { target: { css: `lab(${l} ${a} ${b})`, tolerance: part.target.tolerance } });
      setTool("none");
      setStageProblem(undefined);
    } catch (e) {
      setStageProblem(explain(e));
    }
  };

  const chooseFace = useCallback((f: FaceName) => {
    setFace(f);
    setTool((t) => (f !== "isolate" ? "none" : isKind(t) ? t : "sweep"));
    setShow(f === "isolate" ? "hatch" : "picture");
  }, []);

  const { move } = doc;
  const take = (k: Kind) => () => {
    if (document.activeElement === document.body) document.querySelector<HTMLElement>("[data-stage]")?.focus(); // keys go on there
    chooseFace("isolate");
    setTool(k);
  };
  const size = (k: number) => () => {
    if (tool === "mend") mend.setOptions((b) => ({ ...b, size: Math.max(2, Math.min(300, k > 1 ? Math.max(b.size + 1, Math.round(b.size * k)) : Math.round(b.size * k))) }));
    else if (tool === "push") setPushSize((s) => Math.max(20, Math.min(400, Math.round(s * k))));
    else if (tool === "like") {
      const t = Math.max(0, Math.min(60, Math.round(10 * (how.pick?.tolerance ?? how.options.tolerance) * k + (k > 1 ? 1 : -1)) / 10));
      how.setOptions((b) => ({ ...b, tolerance: t }));
      how.setPick("tolerance", { tolerance: t });
    } else how.setOptions((b) => ({ ...b, size: Math.max(2, Math.min(400, k > 1 ? Math.max(b.size + 1, Math.round(b.size * k)) : Math.round(b.size * k))) }));
  };
  useKeys(
    {
      "ctrl z": (e) => void move(e.shiftKey ? "redo" : "undo"),
      ...Object.fromEntries(Object.entries(kinds).flatMap(([k, v]) => (v.key ? [[v.key.toLowerCase(), take(k as Kind)]] : []))),
      u: () => (tool === "subject" ? how.nextSubject(subjects) : take("subject")()),
      i: () => chooseFace("isolate"),
      c: () => chooseFace("colour"),
      p: () => chooseFace("proof"),
      x: () => how.setOptions((b) => ({ ...b, join: b.join === "add" ? "subtract" : "add" })),
      e: () => how.setOptions((b) => ({ ...b, limit: !b.limit })),
      n: (e) => void step(e.shiftKey ? -1 : 1),
      "[": size(1 / 1.2),
      "]": size(1.2),
      ",": () => (tool === "sweep" ? how.setReach(Math.max(-reachSteps, how.options.reach - 1)) : false),
      ".": () => (tool === "sweep" ? how.setReach(Math.min(reachSteps, how.options.reach + 1)) : false),
      "0": () => stage.current?.fit(),
      "1": () => stage.current?.zoomTo(1),
      "+": () => stage.current?.zoomBy(1.25),
      "=": () => stage.current?.zoomBy(1.25),
      "-": () => stage.current?.zoomBy(0.8),
      "?": () => setKeys(true),
      enter: (e) => (how.drawing && e.target instanceof HTMLCanvasElement ? how.closeOutline() : false),
      escape: () => {
        if (walk) setWalk(undefined);
        else if (tool === "patch" && patching.patch) patching.open(undefined);
        else if (!how.leave()) setTool((t) => (isKind(t) ? t : "none"));
      },
      w: () => setCompare((c) => (c === "split" ? "now" : "split")),
      q: () => setCompare((c) => (c === "pair" ? "now" : "pair")),
      k: () => setCompare((c) => (c === "blink" ? "now" : "blink")),
      g: () => setLoupe((on) => !on),
      y: () => setTool((t) => (t === "sample" ? "none" : "sample")),
      a: () => setTool((t) => (t === "match" ? "none" : "match")),
      f: () => {
        chooseFace("proof");
        patching.open(undefined);
        setTool("patch");
      },
      j: () => {
        chooseFace("proof");
        setTool("mend");
      },
    },
    { v: setHolding },
  );

  const { picture } = doc;
  useTitle(picture?.name);

  if (!picture)
    return (
      <div style={{ padding: 24 }}>{doc.problem ? <Notice strong>{doc.problem}</Notice> : <Notice>Opening the picture</Notice>}</div>
    );
  const named = picture.palette.find((s) => s.id === part?.target.palette_id);
  const hint =
    tool === "sample" ? <>Click the colour to take. <Key>Esc</Key> leaves it.</>
    : tool === "grey" ? <>Click the grey card, or something else that is grey. <Key>Esc</Key> leaves it.</>
    : tool === "match" ? <>Click where the target must be met. <Key>Esc</Key> leaves it.</>
    : tool === "mend" ? <>Brush over what to remove. <Key>Alt</Key> click takes a colour, <Key>[</Key> <Key>]</Key> size, <Key>Esc</Key> ends</>
    : tool === "patch" && !patching.patch ? <>{patching.looking ? "Looking for what could cover it" : <>Draw around what must go. <Key>Esc</Key> ends</>}</>
    : tool === "patch" ? <>Drag from inside the outline to what shall cover it. <Key>Esc</Key> closes the patch</>
    : tool === "pattern" ? <>Drag to move the pattern{part?.pattern?.lay.corners ? ", or its corners" : ""}. <Key>Esc</Key> ends</>
    : tool === "push" ? <>Push the pattern where it must go. <Key>[</Key> <Key>]</Key> size, <Key>Esc</Key> ends</>
    : tool === "copy" ? <>Drag to move the copy, its corners to scale it, the point above it to turn it. <Key>Esc</Key> ends</>
    : tool === "away" ? <>Brush the rebuilding away. <Key>[</Key> <Key>]</Key> size, <Key>Esc</Key> ends</>
    : walk ? <>Edge, {walk.at + 1} of {walk.stops.length}. <Key>N</Key> goes on, <Key>Shift N</Key> back, <Key>Esc</Key> ends</>
    : face === "isolate" && how.ring ? <>Now a stroke inside the thing. <Key>Esc</Key> leaves the ring</>
    : face === "isolate" && (how.nodes || how.drawing) ? <>{how.options.byHand ? "Draw on, or click for a straight piece" : "Click on; drag for a curve"}. The first node closes it, <Key>Esc</Key> ends</>
    : face === "isolate" && isKind(tool) && how.at === undefined && !draft ? <>{tool === "outline" && how.options.byHand ? "Draw around the thing in one go; clicks make straight pieces" : kinds[tool].hint}{tool === "sweep" && <>. Hold <Key>Alt</Key> to take away, <Key>[</Key> <Key>]</Key> size</>}</>
    : compare === "split" ? <>Drag the bar to wipe. Hold <Key>V</Key> to see the picture as it came in.</>
    : undefined;
  return (
    <Looking value={chosenFor}>
    <Page>
      <Bar>
        <Where picture={picture} saving={doc.saving} />
        {ways.length > 0 && (
          <Select aria-label="Colourway" value={colourway?.id ?? ""} onChange={(e) => { stage.current?.ahead(as(doc.document, ways.find((w) => w.id === e.target.value)), false); setWay(e.target.value); setDraft(undefined); }} style={{ maxWidth: 150 }}>
            <option value="">As set</option>
            {ways.map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}
          </Select>
        )}
        <Segmented label="Compare" value={compare} onChange={setCompare} options={[["now", "Now"], ["split", "Split"], ["pair", "Pair"], ["blink", "Blink"]]} />
        {ways.length > 0 && compare !== "now" && (
          <Select aria-label="Against" value={against} onChange={(e) => setAgainst(e.target.value)} style={{ maxWidth: 130 }}>
            <option value="before">with before</option>
            <option value="">with as set</option>
            {ways.map((w) => <option key={w.id} value={w.id}>with {w.name}</option>)}
          </Select>
        )}
        <Button $kind="quiet" aria-pressed={loupe} onPress={() => setLoupe((on) => !on)} style={loupe ? { background: "var(--rail)", color: "var(--ink)" } : undefined}>Loupe</Button>
        <span style={{ display: "flex" }}>
          <UndoRedo undo={picture.undo} redo={picture.redo} onMove={(way) => void move(way)} />
          <Button $kind="quiet" aria-label="Keys" onPress={() => setKeys(true)}>?</Button>
        </span>
        <Button $kind="solid" onPress={() => setDelivering(true)}>Deliver</Button>
      </Bar>
      <Stage
        ref={stage}
        picture={picture}
        document={shown}
        part={part?.id ?? shown.parts[shown.parts.length - 1]?.id}
        show={show === "cast" && !part?.cast ? "picture" : show}
        compare={compare}
        holding={holding}
        loupe={loupe}
        against={compare === "now" ? undefined : opposite}
        label={colourway?.name ?? named?.name ?? "Now"}
        tool={tool}
        size={tool === "mend" ? mend.options.size : tool === "push" ? pushSize : how.options.size}
        byHand={how.options.byHand}
        takeAway={tool === "away" || (tool !== "mend" && how.options.join === "subtract")}
        quick={!!draft && roughly}
        moving={!!draft}
        overlay={{ ...(show === "tint" ? { tint: tint.colour, tint_strength: tint.strength / 100 } : {}), ...(show === "cutout" || show === "rest" ? { ground } : {}) }}
        shapes={tool === "copy" ? { hands: copying.hands, drawing: false } : tool === "pattern" ? { pick: part?.pattern?.lay.corners && { kind: "outline", join: "add", nodes: part.pattern.lay.corners.map((p) => ({ p: part.copy ? placed(part.copy, p as [number, number]) : p })) }, drawing: false } : tool === "patch" ? { pick: patching.patch && { kind: "outline", join: "add", nodes: patching.patch.nodes }, source: patching.patch && sourceOf(patching.patch), drawing: false } : { pick: face === "isolate" ? (draft && part && how.at !== undefined ? part.picks[how.at] : how.pick) : undefined, nodes: how.nodes, ring: how.ring, drawing: how.drawing || !!how.nodes, area: area?.box }}
        onNodes={tool === "pattern" ? setCorners : tool === "patch" ? (nodes, done, label) => { if (patching.patch) patching.change(label, { ...patching.patch, nodes }, done); } : how.setOutline}
        onCloseOutline={how.closeOutline}
        onHand={copying.hand}
        ink={inkView}
        ground={grounds[ground]}
        hint={hint}
        onGesture={tool === "copy" ? copying.gesture : tool === "pattern" || tool === "push" ? movePattern : tool === "patch" ? (g) => patching.gesture(g, g.kind === "stroke" ? (2 * g.stroke.radius) / how.options.size : 1) : tool === "mend" ? mend.brush : tool === "away" ? away : how.gesture}
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
            const p = newPart(nextName(doc.document));
            edit("new part", (d) => ({ ...d, parts: [...d.parts, p] }));
            setAt(p.id);
            chooseFace("isolate");
          }}
          onCarry={() => setCarrying(true)}
          recipes={recipes}
          onRecipe={(r) => {
            const p = { ...newPart(freshName(r.name, doc.document.parts.map((q) => q.name))), ...onto(r) };
            edit(`new part with ${r.name}`, (d) => ({ ...d, parts: [...d.parts, p] }));
            setAt(p.id);
            chooseFace("isolate");
            setTool("sweep");
          }}
          onRename={(p, name) => {
            const q = doc.document.parts.find((x) => x.id === p);
            if (q && ways.some((w) => w.cells[rowOf(q)])) void editJob("rename part", (c) => ({ ...c, colourways: movedCells(c.colourways, rowOf(q), name) }));
            change("rename part", p, { name, unnamed: undefined });
          }}
          onHide={(p, hidden) => change(hidden ? "leave part for now" : "paint part again", p, { hidden })}
          onDelete={(p) => edit("delete part", (d) => withoutPart(d, p))}
          onInside={(p) => {
            const q = { ...newPart(nextName(doc.document)), within: p.id };
            edit(`new part inside ${p.name}`, (d) => ({ ...d, parts: [...d.parts, q] }));
            setAt(q.id);
            chooseFace("isolate");
          }}
          onRest={(p) => {
            const q = restOf(doc.document, p);
            edit(`the rest of ${p.name}`, (d) => ({ ...d, parts: [...d.parts, q] }));
            setAt(q.id);
          }}
          onCopy={(p) => void copying.set(p)}
          onOverlap={(p) => change(p.overlap ? "no overlap" : "may overlap", p.id, { overlap: !p.overlap })}
        />
        {seen && (
          <Faces
            label="Faces of the part"
            at={face}
            onChoose={chooseFace}
            faces={[
              { id: "isolate", name: "Isolate", content: (
                <Isolate
                  picture={picture}
                  parts={shown.parts}
                  part={part}
                  tool={tool}
                  how={how}
                  areas={areas}
                  shownArea={area}
                  onTool={setTool}
                  onPicks={(label, picks) => { if (part) change(label, part.id, { picks }); }}
                  onEdge={setEdge}
                  onArea={showArea}
                  onWalk={() => void step(1)}
                  onDepth={(f) => void bringDepth(f)}
                  onProblem={setStageProblem}
                >
                  {part?.copy && copying.copy && <CopyBox part={part} parts={shown.parts} copy={copying.copy} copying={copying} picture={picture} tool={tool} onTool={setTool} />}
                </Isolate>
              ) },
              { id: "colour", name: "Colour", content: (
                <ColourFace
                  picture={id}
                  part={part}
                  proof={partProof}
                  palette={job.job?.palette ?? picture.palette}
                  job={picture.job}
                  grey={doc.document.grey}
                  onGrey={(label, grey) => edit(label, (d) => ({ ...d, grey }))}
                  size={picture}
                  pictures={job.job?.pictures ?? []}
                  recipes={recipes}
                  onRecipes={(label, how) => void editJob(label, (c) => ({ ...c, recipes: how(c.recipes ?? []) }))}
                  tool={tool}
                  onTool={setTool}
                  onPart={(label, what) => {
                    setDraft(undefined);
                    if (part) change(label, part.id, what);
                  }}
                  onDrag={(what) => {
                    const next = { ...base, parts: base.parts.map((p) => (p.id === part?.id ? { ...p, ...what } : p)) };
                    stage.current?.ahead(next, roughly);
                    setDraftOnly(next);
                    setDraftIsWay(true);
                  }}
                />
              ) },
              { id: "proof", name: "Proof", content: (
                <ProofFace
                  part={part}
                  parts={shown.parts}
                  picture={picture}
                  proof={partProof}
                  all={proof}
                  close={close}
                  outside={proof?.changed_outside}
                  mends={doc.document.mends ?? []}
                  mend={mend}
                  patching={patching}
                  tool={tool}
                  onTool={setTool}
                  onGo={(x, y, zoom) => stage.current?.goTo(x, y, zoom ?? 2)}
                  onPart={(label, what) => { if (part) change(label, part.id, what); }}
                />
              ) },
            ]}
          />
        )}
      </Column>
      <Foot onZoom={(by) => (by === "fit" ? stage.current?.fit() : stage.current?.zoomBy(by))} zoom={zoom} cast={!!part?.cast && !!part.target.css} show={show === "cast" && !part?.cast ? "picture" : show} onShow={setShow} ground={ground} onGround={setGround} tint={tint} onTint={setTint} hover={hover} probe={probe} inks={inks?.name} ink={inks ? ink : ""} onInk={setInk} />
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
      <Once when={carrying}>
        <CarryDialog
          picture={picture}
          open={carrying}
          onClose={() => setCarrying(false)}
          onCarry={(from, parts) => {
            edit(`parts of ${from}`, (d) => ({ ...d, parts: [...d.parts, ...parts.map((q) => (d.parts.some((x) => x.id === q.id) ? { ...q, id: crypto.randomUUID() } : q))] }));
            setAt(parts[0]?.id);
          }}
          onSet={(from, part) => {
            const here = cutPart(doc.document, part);
            edit(`${here.name} of ${from}`, (d) => ({ ...d, parts: [...d.parts, here] }));
            onSet(here.id);
          }}
        />
      </Once>
      <Once when={keys}><KeysDialog open={keys} onClose={() => setKeys(false)} /></Once>
      <Once when={delivering}><DeliverDialog picture={picture} colourway={colourway?.id} open={delivering} onClose={() => setDelivering(false)} proof={proof} /></Once>
    </Page>
    </Looking>
  );
}
