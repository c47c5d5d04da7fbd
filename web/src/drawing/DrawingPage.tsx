import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { navigate } from "wouter/use-browser-location";
import { api, explain, unwrap, type Colourway, type Document, type Family, type Part } from "../api/client";
import { same } from "../api/identity";
import { Looking } from "../bench/colour/looking";
import { DeliverDialog } from "../bench/DeliverDialog";
import { Told } from "../bench/Told";
import { useDocument } from "../bench/useDocument";
import { freshName, inColourway, inPalette, movedCells, rowOf, withCell } from "../colourways";
import { useJob } from "../job/useJob";
import { Column, Page, Waiting } from "../look/Bench";
import { Button, Notice } from "../look/controls";
import { later } from "../look/later";
import { useStable } from "../look/useStable";
import { useKeys } from "../stage/useKeys";
import { DrawingBar } from "./DrawingBar";
import { DrawingFoot } from "./DrawingFoot";
import { DrawingKeys } from "./DrawingKeys";
import { DrawingProof } from "./DrawingProof";
import { DrawingStage, type DrawingStageHandle } from "./DrawingStage";
import { takenOut } from "./embedded";
import { FamiliesPane } from "./FamiliesPane";
import { moved, regathered, withFamily } from "./families";
import { FamilyFace } from "./FamilyFace";
import { FamilyList } from "./FamilyList";
import { many } from "./useLive";
import { usePicked, type How } from "./usePicked";
import { useShown } from "./useShown";
import * as words from "../words/drawing";

const Faces = later(() => import("../look/Faces").then((m) => m.Faces<"colour" | "proof">));
const faces = { colour: words.colour, proof: words.proof };

/** How far a key moves the tolerance of a pick, and how far it goes, in CIEDE2000. */
const tolerances = { step: 1, most: 60 };

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
  const d = drawing.data;
  const [draft, setDraft] = useState<Document>();
  const [at, setAt] = useState<string>();
  const [face, setFace] = useState<"colour" | "proof">("colour");
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
  const as = useCallback((x: Document, w: Colourway | undefined) => inPalette(inColourway(x, w), palette), [palette]);
  const shownDoc = useMemo(() => as(draft ?? doc.document, colourway), [draft, doc.document, colourway, as]);
  const flat = d?.source === "";
  const heavy = !!d?.source && d.items.elements.length > many;
  const { shown, pixels } = useShown({ picture, document: shownDoc, inks: inks?.profile, heavy, flat, onShown: useCallback((s) => stage.current?.paint(s), []), onProblem: setProblem });
  const picked = usePicked(id, d, setProblem);
  const parts = shownDoc.parts;
  const part = parts.find((p) => p.id === at) ?? parts.find((p) => !p.family?.held) ?? parts[0];
  const boards = useMemo(() => d?.boards ?? [], [d]);
  const onBoards = shown?.parts.find((q) => q.id === part?.id)?.boards ?? [];

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
  /** Shows a document while a hand moves, ahead of all else that shows it. */
  const dragged = (next: Document, w: Colourway | undefined) => {
    stage.current?.ahead(as(next, w));
    setDraft(next);
  };
  const click = (item: number, how: How) => {
    const colour = d?.colours[d.items.colours[item] ?? 0];
    if (!colour) return;
    if (sampling) {
      setSampling(false);
      if (part?.family) change(words.sampledColour, part.id, { target: { css: colour }, family: { ...part.family, held: false } });
      return;
    }
    if (!how.alt) setAt(parts.find((q) => q.family?.members.some((m) => m.colour === colour))?.id ?? part?.id);
    picked.pick(colour, how);
  };
  const makeFamily = async () => {
    const colours = await picked.coming();
    if (colours.length === 0) return;
    const fresh = crypto.randomUUID();
    edit(words.familyOfWhatIsPicked, (x) => moved(x, colours, undefined, fresh, { ...(picked.board ? { boards: [picked.board] } : {}), ...(picked.prop ? { prop: picked.prop } : {}) }));
    setAt(fresh);
    setFace("colour");
  };
  const gather = async (n: number) => {
    try {
      const list = await unwrap(api.GET("/api/pictures/{picture}/drawing/families", { params: { path: { picture: id }, query: n > 0 ? { n } : {} } }));
      edit(words.listFamilies(list.length), (x) => regathered(x, list));
      setProblem(undefined);
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const intoPalette = (name: string, css: string) => {
    const fresh = crypto.randomUUID();
    void editJob(words.newColour, (c) => ({ ...c, palette: [...c.palette, { id: fresh, name: freshName(name, c.palette.map((s) => s.name)), css, tolerance: 2 }] }));
  };
  const openImage = async (element: number) => {
    if (!picture || !d) return;
    try {
      const made = await takenOut(picture, d, element);
      if (!made) return;
      await queries.invalidateQueries({ queryKey: ["job", picture.job] });
      navigate(`/pictures/${made}`);
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const showBoard = (b: string) => {
    picked.on(b);
    const box = boards.find((q) => q.id === b)?.box;
    if (box) stage.current?.fitTo(box);
    else stage.current?.fit();
  };
  const next = (by: number) => {
    const i = parts.findIndex((q) => q.id === part?.id);
    setAt(parts[(i + by + parts.length) % parts.length]?.id);
  };
  const onStage = (e: KeyboardEvent) => e.target instanceof HTMLElement && e.target.dataset.testid === "drawing";

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
      f: () => void makeFamily(),
      u: () => { if (part?.family?.main) picked.pick(part.family.main); },
      arrowdown: (e) => (onStage(e) ? next(1) : false),
      arrowup: (e) => (onStage(e) ? next(-1) : false),
      "[": () => picked.within(Math.max(0, Math.round((picked.tolerance - tolerances.step) * 10) / 10)),
      "]": () => picked.within(Math.min(tolerances.most, picked.tolerance + tolerances.step)),
      escape: () => { if (sampling) setSampling(false); else { picked.clear(); setHide(false); } },
      "?": () => setKeys(true),
    },
    { v: setHolding },
  );
  const onMove = useStable((way: "undo" | "redo") => void move(way));
  const onKeys = useStable(() => setKeys(true));
  const onDeliver = useStable(() => setDelivering(true));
  const onPick = useStable(click);
  const onRename = useStable((p: string, name: string) => {
    const q = doc.document.parts.find((x) => x.id === p);
    if (q && ways.some((w) => w.cells[rowOf(q)])) void editJob(words.renameFamily, (c) => ({ ...c, colourways: movedCells(c.colourways, rowOf(q), name) }));
    change(words.renameFamily, p, { name, unnamed: undefined });
  });
  const onHold = useStable((p: string, held: boolean) => edit(held ? words.holdFamily : words.letFamilyGo, (x) => withFamily(x, p, { held })));
  const onDrop = useStable((to: string, colour: string) => { if (colour.startsWith("#") || colour.startsWith("lab(")) edit(words.moveAColour, (x) => moved(x, [colour], to, "")); });
  const onPart = useStable((label: string, what: Partial<Part>) => { if (part) change(label, part.id, what); });
  const onFamily = useStable(family);
  const onDrag = useStable((what: Partial<Family>) => { if (part) dragged(withFamily(doc.document, part.id, what), colourway); });
  const onDragTarget = useStable((css: string) => {
    if (!part) return;
    const next = { ...doc.document, parts: doc.document.parts.map((q) => (q.id === part.id ? { ...q, target: { css }, ...(q.family ? { family: { ...q.family, held: false } } : {}) } : q)) };
    dragged(next, colourway && withCell(colourway, rowOf(part), { target: { css } }));
  });
  const onKeepColour = useStable(() => { if (part?.family) intoPalette(part.name, part.target.css && !part.target.palette_id ? part.target.css : part.family.main); });
  const onSample = useStable(() => setSampling((on) => !on));
  const onMembers = useStable((label: string, members: Family["members"]) => family(label, { members }));
  const onMoveColour = useStable((colour: string, to: string | undefined) => { const fresh = crypto.randomUUID(); edit(words.moveAColour, (x) => moved(x, [colour], to, fresh)); if (!to) setAt(fresh); });
  const onPickColour = useStable((colour: string) => picked.pick(colour, undefined, 0));
  const onGo = (element: number) => {
    picked.set(new Set(d?.items.elements.flatMap((e, i) => (e === element ? [i] : []))));
    setTimeout(() => stage.current?.fitPicked(), 60);
  };
  // Without families it is a photo again.
  useEffect(() => {
    if (picture && picture.format !== "svg" && doc.saving === "saved" && !doc.document.parts.some((q) => q.family)) void queries.invalidateQueries({ queryKey: ["kind", id] });
  }, [picture, doc.saving, doc.document, queries, id]);
  useEffect(() => {
    document.title = picture ? words.pictureEpisema(picture.name) : words.episema;
    return () => { document.title = words.episema; };
  }, [picture]);

  if (!picture || !d)
    return <Waiting>{doc.problem || drawing.error ? <Notice strong>{doc.problem ?? explain(drawing.error)}</Notice> : <Notice>{words.openingTheDrawing}</Notice>}</Waiting>;
  return (
    <Looking value={chosenFor}>
    <Page>
      <DrawingBar picture={picture} saving={doc.saving} ways={ways} way={colourway?.id ?? ""} split={split} onWay={setWay} onSplit={setSplit} onMove={onMove} onKeys={onKeys} onDeliver={onDeliver} />
      <DrawingStage ref={stage} picture={picture} drawing={d} heavy={heavy} document={shownDoc} part={part?.id} shown={shown} pixels={pixels} before={holding} split={split} picked={picked.items} hide={hide} ground="#8a8a8a" onPick={onPick} onZoom={setZoom} onProblem={setProblem} />
      <Column aria-label={words.familiesAndTheirColours}>
        <FamiliesPane n={parts.length} onAsPhoto={flat ? () => edit(words.workOnItAsAPhoto, (x) => ({ ...x, parts: x.parts.filter((q) => !q.family) })) : undefined} onGather={(n) => void gather(n)}>
          <FamilyList parts={parts} at={part?.id} shown={shown} things={!flat} onChoose={setAt} onRename={onRename} onHold={onHold} onDrop={onDrop} />
        </FamiliesPane>
        <Faces
          label={words.facesOfTheFamily}
          at={face}
          onChoose={setFace}
          names={faces}
          contents={{
            colour: (
              <FamilyFace
                part={part}
                parts={parts}
                proof={shown?.proofs.find((q) => q.id === part?.id)}
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
            ),
            proof: <DrawingProof parts={parts} shown={shown} onGo={onGo} />,
          }}
        />
      </Column>
      <DrawingFoot
        percent={(100 * zoom * (d.size[2] ?? 1)) / picture.width}
        onZoom={(by) => { if (by === "fit") stage.current?.fit(); else stage.current?.zoomBy(by); }}
        flat={flat}
        boards={boards}
        onBoards={onBoards.length}
        onBoard={showBoard}
        picked={picked}
        hidden={hide}
        onHide={() => setHide((on) => !on)}
        onFitPicked={() => stage.current?.fitPicked()}
        onFamily={() => void makeFamily()}
      />
      <Told doc={doc} what={words.drawing} problem={problem} onDismiss={() => setProblem(undefined)}>
        {!quiet && d.left_out.length > 0 && <Notice strong>{words.leftOutOfTheDrawingAs(d.left_out.join(", "))}<Button $kind="quiet" onPress={() => setQuiet(true)}>{words.dismiss}</Button></Notice>}
        {!quiet && d.images.length > 0 && <Notice>{d.images.length === 1 ? words.oneEmbeddedPictureKeepsItsColours : words.imagesEmbeddedPicturesKeepTheirColours(d.images.length)} {d.images.slice(0, 3).map((i, n) => <Button key={i} $kind="quiet" onPress={() => void openImage(i)}>{d.images.length === 1 ? words.openItAsAPhoto : words.openTheWhatAsAPhoto(["first", "second", "third"][n] ?? "")}</Button>)} <Button $kind="quiet" onPress={() => setQuiet(true)}>{words.dismiss}</Button></Notice>}
      </Told>
      <DrawingKeys open={keys} onClose={() => setKeys(false)} />
      <DeliverDialog picture={picture} colourway={colourway?.id} open={delivering} onClose={() => setDelivering(false)} proof={shown && { parts: shown.proofs, changed_outside: 0 }} />
    </Page>
    </Looking>
  );
}
