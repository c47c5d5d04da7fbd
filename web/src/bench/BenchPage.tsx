import { useCallback, useEffect, useMemo, useRef, useState, type ComponentProps } from "react";
import { freshName, movedCells, rowOf } from "../colourways";
import { Looking } from "./colour/looking";
import { api, explain, unwrap, type Areas, type Document, type Edge } from "../api/client";
import { bringing } from "../api/draft";
import { Column, FootLine, Page, Waiting } from "../look/Bench";
import { Bar, Notice } from "../look/controls";
import { useFirstLookOver } from "../firstLook";
import { later } from "../look/later";
import { Once } from "../look/Once";
import { useTitle } from "../look/useTitle";
import type { Compare } from "./stage/comparing";
import { Hovering } from "./hovering";
import { Foot, grounds, inkOf, type GroundName, type InkView, type Tint } from "./Foot";
import { hintOf } from "./Hint";
import { isKind } from "./isolate/kinds";
import type { Gesture } from "./isolate/gestures";
import { useIsolate } from "./isolate/useIsolate";
import { cutPart } from "./copies/copies";
import { useCopy } from "./copies/useCopy";
import { usePattern } from "./pattern/usePattern";
import { sourceOf } from "./patch/patches";
import { usePatch } from "./patch/usePatch";
import { useMend } from "./useMend";
import { newPart, nextName, restOf, withoutPart } from "./parts";
import type { Show } from "./stage/painter";
import { isOnItsWay } from "./stage/firstView";
import { Stage, type StageHandle } from "./stage/Stage";
import type { Tool } from "./stage/tools";
import { onto } from "./recipes/recipes";
import { Told } from "./Told";
import { Following } from "./following";
import { TopBar } from "./TopBar";
import { useBenchKeys } from "./useBenchKeys";
import { useDocument } from "./useDocument";
import { useEdgeWalk } from "./useEdgeWalk";
import { useMeasured } from "./useMeasured";
import { useWays } from "./useWays";
import { beside } from "./ways";
import { GoesAhead } from "../look/goesAhead";
import { stageDrawn } from "../stage/quiet";
import * as words from "../words/bench";

const Parts = later(() => import("./Parts").then((m) => m.Parts));
const Faces = later(() => import("../look/Faces").then((m) => m.Faces<FaceName>));
const Isolate = later(() => import("./isolate/Isolate").then((m) => m.Isolate));
const CopyBox = later(() => import("./copies/CopyBox").then((m) => m.CopyBox));
const CarryDialog = later(() => import("./CarryDialog").then((m) => m.CarryDialog));
const DeliverDialog = later(() => import("./DeliverDialog").then((m) => m.DeliverDialog));
const BenchKeys = later(() => import("./BenchKeys").then((m) => m.BenchKeys));
const ColourFace = later(() => import("./colour/ColourFace").then((m) => m.ColourFace));
const ProofFace = later(() => import("./proof/ProofFace").then((m) => m.ProofFace));

/** How long the bars of a page wait for the first picture, where it is on its way already, in milliseconds. */
const mostForPicture = 150;

const none: never[] = []; // the same one each time

type FaceName = "isolate" | "colour" | "proof";
const faceNames: Record<FaceName, string> = { isolate: words.isolate, colour: words.colour, proof: words.proof };

/** What a tool that selects nothing does with a hand on the stage, and what it draws there. */
type ToolHands = Partial<Pick<ComponentProps<typeof Stage>, "onGesture" | "onNodes" | "shapes" | "size">>;

/** Where one picture is worked on. */
export function BenchPage({ id }: { id: string }) {
  const doc = useDocument(id);
  const [draft, setDraftOnly] = useState<Document>();
  const [draftIsWay, setDraftIsWay] = useState(false); // the draft has a colourway's targets in it already
  const [following] = useState(() => new Following(stageDrawn));
  const setDraft = useCallback((d: Document | undefined) => {
    following.drop();
    setDraftOnly(d);
    setDraftIsWay(false);
  }, [following]);
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
  const [zoom, setZoom] = useState(0);
  const [hovering] = useState(() => new Hovering());
  const [keys, setKeys] = useState(false);
  const [delivering, setDelivering] = useState(false);
  const [carrying, setCarrying] = useState(false);
  const [stageProblem, setStageProblem] = useState<string>();
  const stage = useRef<StageHandle>(null);

  const { edit } = doc;
  const ways = useWays({ document: doc.document, picture: doc.picture, edit });
  const { job, editJob, colourway, as, base, opposite, change } = ways;
  const recipes = job?.recipes ?? none;
  const inks = job?.inks;
  const [ink, setInk] = useState<InkView>("");
  const chosenFor = useMemo(() => ({ picture: doc.picture?.id, job: doc.picture?.job, inks }), [doc.picture?.id, doc.picture?.job, inks]);
  const inkView = useMemo(() => inkOf(inks ? ink : ""), [inks, ink]);
  const shown = useMemo(() => (draft ? as(draft, draftIsWay ? undefined : colourway) : base), [draft, draftIsWay, colourway, base, as]);
  const part = useMemo(() => shown.parts.find((p) => p.id === at) ?? shown.parts[0], [shown, at]);

  const roughly = tool === "sweep" || tool === "marks" || tool === "outline"; // what takes long to work out exactly
  const seen = useFirstLookOver(); // the picture comes before what is said of it
  const [soon] = useState(isOnItsWay);
  const bars = useFirstLookOver(soon ? mostForPicture : 0); // and before what stands around it
  const made = `${inks?.profile} ${doc.picture?.depth_map}`; // what besides the document decides what is seen, and measured
  const revision = seen ? doc.picture?.revision : undefined;
  const drafted = !!draft;
  const { proof, measuring, of: partProof, areas, close } = useMeasured({ picture: id, revision, document: shown, made, part, face, draft: drafted });
  useEffect(() => hovering.of({ picture: id, revision, document: shown, part: part?.id, draft: drafted }), [hovering, id, revision, shown, part?.id, drafted]);

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

  const laying = usePattern({ document: doc.document, part, edit, preview, setDraft });
  const walk = useEdgeWalk({ picture: id, document: shown, part, face, stage, onProblem: setStageProblem });

  /** Brushes the rebuilding of the part away. */
  const away = (g: Gesture) => {
    if (g.kind !== "stroke" || !part?.settings.rebuild) return;
    const { rebuild } = part.settings;
    const settings = { ...part.settings, rebuild: { ...rebuild, away: [...(rebuild.away ?? []), g.stroke] } };
    const next = (d: Document): Document => ({ ...d, parts: d.parts.map((q) => (q.id === part.id ? { ...q, settings } : q)) });
    if (g.done) {
      preview();
      edit(words.brushTheRebuildingAway, next);
    } else preview(next(doc.document), part.id);
  };

  useEffect(() => setArea(undefined), [part?.id, part?.picks, part?.edge]);

  const showArea = (a: Areas["list"][number] | undefined) => {
    setArea(a);
    if (!a) return;
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = a.box;
    const s = stage.current?.size() ?? { width: 900, height: 600 };
    stage.current?.goTo((x0 + x1) / 2, (y0 + y1) / 2, Math.min(2, s.width / (3 * (x1 - x0 + 20)), s.height / (3 * (y1 - y0 + 20))));
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

  /** Shows what a hand makes of the document, on the stage first; in a colourway it may be so already. */
  const dragged = (d: Document, inWay: Document) => {
    stage.current?.ahead(inWay, roughly);
    following.to(() => {
      setDraftOnly(d);
      setDraftIsWay(d === inWay);
    });
  };

  const setEdge = (label: string, edge: Edge, done: boolean) => {
    if (!part) return;
    const next = (d: Document): Document => ({ ...d, parts: d.parts.map((q) => (q.id === part.id ? { ...q, edge } : q)) });
    if (!done) {
      const d = next(doc.document);
      dragged(d, as(d, colourway));
      return;
    }
    setDraft(undefined);
    edit(label, next);
  };

  const point = async (x: number, y: number) => {
    if (tool === "grey") {
      edit(words.greyCard, (d) => ({ ...d, grey: { at: [Math.round(x), Math.round(y)], lightness: d.grey?.lightness ?? 50 } }));
      setTool("none");
      return;
    }
    if (!part) return;
    if (tool === "match") {
      change(words.matchPoint, part.id, { match: [Math.round(x), Math.round(y)] });
      setTool("none");
      return;
    }
    try {
      const p = await unwrap(bringing(id, { parts: [] }, (b) => api.POST("/api/pictures/{picture}/probe", { params: { path: { picture: id } }, body: { x, y, part: part.id, ...b } })));
      const [l = 0, a = 0, b = 0] = p.was;
      change(words.sampledColour, part.id, { target: { css: `lab(${l} ${a} ${b})`, tolerance: part.target.tolerance } });
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
  useBenchKeys({ stage, tool, setTool, chooseFace, setCompare, setHolding, setLoupe, how, mend, patching, walk, setPushSize: laying.setSize, onMove: (way) => void move(way), onKeys: () => setKeys(true) });

  const { picture } = doc;
  useTitle(picture?.name);

  if (!picture) return <Waiting>{doc.problem ? <Notice strong>{doc.problem}</Notice> : <Notice>{words.openingThePicture}</Notice>}</Waiting>;
  const named = picture.palette.find((s) => s.id === part?.target.palette_id);
  const tools: Partial<Record<Tool, ToolHands>> = {
    copy: { onGesture: copying.gesture, shapes: { hands: copying.hands, drawing: false } },
    pattern: { onGesture: laying.gesture("move"), onNodes: laying.setNodes, shapes: { ...(laying.gridded ? { grid: laying.nodes } : { pick: laying.nodes && { kind: "outline", join: "add", nodes: laying.nodes } }), drawing: false } },
    push: { onGesture: laying.gesture("push"), size: laying.size },
    patch: {
      onGesture: (g) => patching.gesture(g, g.kind === "stroke" ? (2 * g.stroke.radius) / how.options.size : 1),
      onNodes: (nodes, done, label) => { if (patching.patch) patching.change(label, { ...patching.patch, nodes }, done); },
      shapes: { pick: patching.patch && { kind: "outline", join: "add", nodes: patching.patch.nodes }, source: patching.patch && !patching.patch.fill ? sourceOf(patching.patch) : undefined, drawing: false },
    },
    mend: { onGesture: mend.brush, size: mend.options.size },
    away: { onGesture: away },
  };
  const hands = tools[tool] ?? {};
  const selecting = { pick: face === "isolate" ? (draft && part && how.at !== undefined ? part.picks[how.at] : how.pick) : undefined, nodes: how.nodes, ring: how.ring, drawing: how.drawing || !!how.nodes, area: area?.box };
  return (
    <Looking value={chosenFor}>
    <Page>
      {!bars && <Bar />}
      {bars && <TopBar
        picture={picture}
        saving={doc.saving}
        ways={ways.ways}
        way={colourway?.id ?? ""}
        against={ways.against}
        onAgainst={ways.setAgainst}
        onWay={(w) => {
          stage.current?.ahead(as(doc.document, ways.ways.find((c) => c.id === w)), false, true);
          ways.turn(w, () => { setDraft(undefined); });
        }}
        compare={compare}
        onCompare={setCompare}
        loupe={loupe}
        onLoupe={() => setLoupe((on) => !on)}
        onMove={(way) => void move(way)}
        onKeys={() => setKeys(true)}
        onDeliver={() => setDelivering(true)}
      />}
      <Stage
        ref={stage}
        picture={picture}
        document={shown}
        way={colourway?.id ?? ""}
        beside={() => beside(ways.ways, colourway).map((w) => as(doc.document, w))}
        part={part?.id ?? shown.parts[shown.parts.length - 1]?.id}
        show={show === "cast" && !part?.cast ? "picture" : show}
        compare={compare}
        holding={holding}
        loupe={loupe}
        against={compare === "now" ? undefined : opposite}
        label={colourway?.name ?? named?.name ?? words.now}
        tool={tool}
        size={hands.size ?? how.options.size}
        byHand={how.options.byHand}
        takeAway={tool === "away" || (tool !== "mend" && how.options.join === "subtract")}
        quick={!!draft && roughly}
        moving={!!draft}
        overlay={{ ...(show === "tint" ? { tint: tint.colour, tint_strength: tint.strength / 100 } : {}), ...(show === "cutout" || show === "rest" ? { ground } : {}) }}
        shapes={hands.shapes ?? selecting}
        onNodes={hands.onNodes ?? how.setOutline}
        onCloseOutline={how.closeOutline}
        onHand={copying.hand}
        ink={inkView}
        made={job && made}
        ground={grounds[ground]}
        hint={hintOf({ tool, face, compare, how, patching, walk: walk.walk, corners: laying.nodes?.length, draft: !!draft })}
        onGesture={hands.onGesture ?? how.gesture}
        onPoint={(x, y) => void point(x, y)}
        onHover={hovering.to}
        onZoom={setZoom}
        onProblem={setStageProblem}
      />
      <Column aria-label={words.partsAndTheirSettings} data-measuring={measuring}>
        {bars && <Parts
          parts={draftIsWay ? base.parts : shown.parts} // what is dragged under Colour is in no row
          at={part?.id}
          proof={proof}
          measuring={measuring}
          onChoose={setAt}
          onAdd={() => {
            const p = newPart(nextName(doc.document));
            edit(words.newPart, (d) => ({ ...d, parts: [...d.parts, p] }));
            setAt(p.id);
            chooseFace("isolate");
          }}
          onCarry={() => setCarrying(true)}
          recipes={recipes}
          onRecipe={(r) => {
            const p = { ...newPart(freshName(r.name, doc.document.parts.map((q) => q.name))), ...onto(r) };
            edit(words.newPartWithName(r.name), (d) => ({ ...d, parts: [...d.parts, p] }));
            setAt(p.id);
            chooseFace("isolate");
            setTool("sweep");
          }}
          onRename={(p, name) => {
            const q = doc.document.parts.find((x) => x.id === p);
            if (q && ways.ways.some((w) => w.cells[rowOf(q)])) void editJob(words.renamePart, (c) => ({ ...c, colourways: movedCells(c.colourways, rowOf(q), name) }));
            change(words.renamePart, p, { name, unnamed: undefined });
          }}
          onHide={(p, hidden) => change(hidden ? words.leavePartForNow : words.paintPartAgain, p, { hidden })}
          onDelete={(p) => edit(words.deletePart, (d) => withoutPart(d, p))}
          onInside={(p) => {
            const q = { ...newPart(nextName(doc.document)), within: p.id };
            edit(words.newPartInsideName(p.name), (d) => ({ ...d, parts: [...d.parts, q] }));
            setAt(q.id);
            chooseFace("isolate");
          }}
          onRest={(p) => {
            const q = restOf(doc.document, p);
            edit(words.theRestOfName(p.name), (d) => ({ ...d, parts: [...d.parts, q] }));
            setAt(q.id);
          }}
          onCopy={(p) => void copying.set(p)}
          onOverlap={(p) => change(p.overlap ? words.noOverlap : words.mayOverlap, p.id, { overlap: !p.overlap })}
        />}
        {seen && (
          <Faces
            label={words.facesOfThePart}
            at={face}
            onChoose={chooseFace}
            names={faceNames}
            contents={{
              isolate: (
                <GoesAhead value={true}>
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
                  onWalk={() => void walk.step(1)}
                  onDepth={(f) => void bringDepth(f)}
                  onProblem={setStageProblem}
                >
                  {part?.copy && copying.copy && <CopyBox part={part} parts={shown.parts} copy={copying.copy} copying={copying} picture={picture} tool={tool} onTool={setTool} />}
                </Isolate>
                </GoesAhead>
              ),
              colour: (
                <GoesAhead value={true}>
                <ColourFace
                  picture={id}
                  part={part}
                  proof={partProof}
                  palette={job?.palette ?? picture.palette}
                  job={picture.job}
                  grey={doc.document.grey}
                  onGrey={(label, grey) => edit(label, (d) => ({ ...d, grey }))}
                  size={picture}
                  pictures={job?.pictures ?? none}
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
                    dragged(next, next);
                  }}
                />
                </GoesAhead>
              ),
              proof: (
                <ProofFace
                  part={part}
                  parts={shown.parts}
                  picture={picture}
                  proof={partProof}
                  all={proof}
                  close={close}
                  outside={proof?.changed_outside}
                  mends={doc.document.mends ?? none}
                  mend={mend}
                  patching={patching}
                  tool={tool}
                  onTool={setTool}
                  onGo={(x, y, zoom) => stage.current?.goTo(x, y, zoom ?? 2)}
                  onPart={(label, what) => { if (part) change(label, part.id, what); }}
                />
              ),
            }}
          />
        )}
      </Column>
      {!bars && <FootLine />}
      {bars && <Foot onZoom={(by) => (by === "fit" ? stage.current?.fit() : stage.current?.zoomBy(by))} zoom={zoom} cast={!!part?.cast && !!part.target.css} show={show === "cast" && !part?.cast ? "picture" : show} onShow={setShow} ground={ground} onGround={setGround} tint={tint} onTint={setTint} over={hovering} inks={inks?.name} ink={inks ? ink : ""} onInk={setInk} />}
      <Told doc={doc} what={words.picture} problem={stageProblem} onDismiss={() => setStageProblem(undefined)} />
      <Once when={carrying}>
        <CarryDialog
          picture={picture}
          open={carrying}
          onClose={() => setCarrying(false)}
          onCarry={(from, parts) => {
            edit(words.partsOfFrom(from), (d) => ({ ...d, parts: [...d.parts, ...parts.map((q) => (d.parts.some((x) => x.id === q.id) ? { ...q, id: crypto.randomUUID() } : q))] }));
            setAt(parts[0]?.id);
          }}
          onSet={(from, part) => {
            const here = cutPart(doc.document, part);
            edit(words.thingOf(here.name, from), (d) => ({ ...d, parts: [...d.parts, here] }));
            onSet(here.id);
          }}
        />
      </Once>
      <Once when={keys}><BenchKeys open={keys} onClose={() => setKeys(false)} /></Once>
      <Once when={delivering}><DeliverDialog picture={picture} colourway={colourway?.id} open={delivering} onClose={() => setDelivering(false)} proof={proof} /></Once>
    </Page>
    </Looking>
  );
}
