import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { FileTrigger, ProgressBar } from "react-aria-components";
import styled from "styled-components";
import { navigate } from "wouter/use-browser-location";
import { api, explain, unwrap } from "../api/client";
import { Bar, Button, Notice } from "../look/controls";
import { Meter } from "../look/Meter";
import { isNotHere, NotHere } from "../look/NotHere";
import { useTitle } from "../look/useTitle";
import { UndoRedo } from "../look/UndoRedo";
import { Disc } from "../look/Disc";
import { withCell } from "../colourways";
import { Deliveries } from "./Deliveries";
import { useColourDrag } from "./drag";
import { Matrix } from "./Matrix";
import { OrderDialog } from "./OrderDialog";
import { PalettePane } from "./PalettePane";
import { Pictures } from "./Pictures";
import { later } from "../look/later";
import { Once } from "../look/Once";
import { useJob } from "./useJob";
import { useUploads, type Upload } from "./useUploads";
import { TypedInput } from "../look/TypedField";
import { Trail } from "../look/Trail";
import { Faint, Flow, Plain } from "../look/layout";
import * as words from "../words/job";

/** What is dragged, below the pointer. */
const InHand = styled.span`
  position: fixed;
  pointer-events: none;
  z-index: 30;
`;
const Sent = styled(ProgressBar)`grid-column: 1 / 3;`;

const ShelfDialog = later(() => import("./ShelfDialog").then((m) => m.ShelfDialog));

const Page = styled.div`
  display: grid;
  grid-template: auto 1fr / minmax(0, 1fr) 300px;
  height: 100%;
  > header { grid-column: 1 / 3; }
  @media (max-width: 760px) {
    grid-template: auto auto auto / minmax(0, 1fr);
    height: auto;
    > header { grid-column: 1; }
  }
`;
const Main = styled.main<{ $over: boolean }>`
  overflow: auto;
  padding: 20px;
  display: grid;
  gap: 18px;
  align-content: start;
  > * { min-width: 0; }
  outline: ${(p) => (p.$over ? "3px solid var(--ink)" : "none")};
  outline-offset: -6px;
`;
const Side = styled.aside`
  border-left: 1px solid var(--rule);
  background: var(--card);
  overflow: auto;
  padding: 14px;
  display: grid;
  gap: 4px;
  align-content: start;
`;
const Name = styled(TypedInput)`
  font-size: 21px;
  font-weight: 680;
  font-stretch: 88%;
  letter-spacing: -0.01em;
  border: 1px solid transparent;
  border-radius: var(--round);
  background: none;
  padding: 2px 6px;
  margin-left: -7px;
  width: 100%;
  &:hover { border-color: var(--rule); }
  &:focus { border-color: var(--ink); background: #fff; outline: none; }
`;
const Drop = styled.div`
  aspect-ratio: 3 / 2;
  border: 1px dashed var(--ink3);
  border-radius: 5px;
  display: grid;
  place-content: center;
  justify-items: center;
  gap: 8px;
  color: var(--ink2);
  text-align: center;
  padding: 8px;
`;
const UploadRow = styled.li`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 3px 12px;
  align-items: center;
  border: 1px solid var(--rule);
  border-radius: var(--round);
  background: #fff;
  padding: 7px 11px;
  b { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  p { grid-column: 1; color: var(--ink2); overflow-wrap: anywhere; }
`;

function UploadLine({ u, again, dismiss }: { u: Upload; again: () => void; dismiss: () => void }) {
  const failed = u.state === "failed";
  return (
    <UploadRow>
      <b title={u.name}>{u.name}</b>
      {failed ? (
        <span>
          <Button onPress={again}>{words.tryAgain}</Button> <Button $kind="quiet" onPress={dismiss}>{words.dismiss}</Button>
        </span>
      ) : (
        <span className="num">{u.state === "done" ? words.inTheJob : u.state === "waiting" ? words.waiting : u.sent < 1 ? `${Math.round(u.sent * 100)} %` : words.reading}</span>
      )}
      {failed && <p role="alert">{words.notTakenProblem(u.problem ?? "")}</p>}
      {u.state === "sending" && (
        <Sent aria-label={words.sendingName(u.name)} value={u.sent * 100}>
          <Meter share={u.sent} />
        </Sent>
      )}
    </UploadRow>
  );
}

/** A job: its pictures, its palette, its deliveries. */
export function JobPage({ id }: { id: string }) {
  const queries = useQueryClient();
  const editing = useJob(id);
  const { job, edit, move } = editing;
  useTitle(job?.name);
  const [ordering, setOrdering] = useState(false);
  const [shelf, setShelf] = useState(false);
  const added = useCallback(() => void queries.invalidateQueries({ queryKey: ["job", id] }), [queries, id]);
  const uploads = useUploads(id, added);
  const [over, setOver] = useState(false);
  const [problem, setProblem] = useState<string>();
  const { add } = uploads;
  const drop = useCallback(
    (colour: string, place: string) =>
      void edit(words.aColourByHand, (c) => {
        const s = c.palette.find((q) => q.id === colour);
        const [what, way, ...name] = place.split(" ");
        if (!s) return c;
        const rows = what === "col" ? (job?.rows.map((r) => r.key) ?? []) : [name.join(" ")];
        return { ...c, colourways: c.colourways.map((w) => (w.id === way ? rows.reduce((q, r) => withCell(q, r, { target: { css: s.css, palette_id: s.id, tolerance: s.tolerance }, settings: q.cells[r]?.settings }), w) : w)) };
      }),
    [edit, job?.rows],
  );
  const drag = useColourDrag(drop);

  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || e.target instanceof HTMLInputElement) return;
      e.preventDefault();
      void move(e.shiftKey ? "redo" : "undo");
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, [move]);

  useEffect(() => {
    // Anywhere on the window: a file dropped beside the field must not replace the page.
    const drag = (e: DragEvent) => {
      if (!e.dataTransfer?.types.includes("Files")) return;
      e.preventDefault();
      setOver(e.type === "dragover");
      if (e.type === "drop") add([...e.dataTransfer.files]);
    };
    const kinds = ["dragover", "dragleave", "drop"] as const;
    kinds.forEach((k) => addEventListener(k, drag));
    return () => kinds.forEach((k) => removeEventListener(k, drag));
  }, [add]);

  const rename = async (name: string) => {
    try {
      queries.setQueryData(["job", id], await unwrap(api.PATCH("/api/jobs/{job}", { params: { path: { job: id } }, body: { name } })));
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const shown = uploads.list.filter((u) => u.state !== "done");
  if (isNotHere(editing.error)) return <NotHere what="job" />;
  return (
    <Page>
      <Bar>
        <Trail back={{ href: "/", name: words.jobs }}>{job?.name}</Trail>
        <Faint className="num" role="status" aria-live="polite" data-saving={editing.saving ? "saving" : "saved"}>{editing.saving ? words.saving : ""}</Faint>
        <Flow as="span">
          <UndoRedo undo={job?.undo} redo={job?.redo} onMove={(way) => void move(way)} />
        </Flow>
        {job && job.pictures.length > 0 && <><Button onPress={() => navigate(`/sheet/${id}`)}>{words.sheet}</Button><Button onPress={() => navigate(`/across/${id}`)}>{words.acrossPictures}</Button></>}
        {job && job.pictures.length > 0 && <Button $kind="solid" onPress={() => setOrdering(true)}>{words.deliver}</Button>}
      </Bar>
      <Main $over={over}>
        {editing.error && <Notice strong>{explain(editing.error)}</Notice>}
        {problem && <Notice strong>{problem}</Notice>}
        {editing.problem && <Notice strong>{editing.problem} <Button $kind="quiet" onPress={editing.clearProblem}>{words.dismiss}</Button></Notice>}
        {job && (
          <>
            <div>
              <Name aria-label={words.nameOfTheJob} value={job.name} onValue={(name) => void rename(name)} />
              <Faint as="div" className="num">
                {words.picturesCounted(job.pictures.length)} · {((n) => words.partsCounted(n))(job.pictures.reduce((n, p) => n + p.parts, 0))}
              </Faint>
            </div>
            {shown.length > 0 && (
              <Plain aria-label={words.filesComingIn} $gap={6}>
                {shown.map((u) => (
                  <UploadLine key={u.key} u={u} again={() => uploads.again(u)} dismiss={() => uploads.dismiss(u.key)} />
                ))}
              </Plain>
            )}
            <Pictures job={job}>
              <li>
                <Drop>
                  <span>{over ? words.letGoToBringThemIn : words.dropPhotosAndDrawingsAnywhere}</span>
                  <FileTrigger allowsMultiple acceptedFileTypes={["image/jpeg", "image/png", "image/webp", "image/tiff", "image/svg+xml", "application/pdf", ".eps"]} onSelect={(f) => { if (f) add([...f]); }}>
                    <Button>{words.chooseFiles}</Button>
                  </FileTrigger>
                  <Button $kind="quiet" onPress={() => setShelf(true)}>{words.fromThePictureShelf}</Button>
                  <Faint as="small">{words.jpegPngWebpTiffSvgPdf}</Faint>
                </Drop>
              </li>
            </Pictures>
            <Matrix job={job} editing={editing} />
          </>
        )}
      </Main>
      <Side>
        {job && <PalettePane job={job} editing={editing} onDragStart={drag.start} />}
        <Deliveries job={id} />
      </Side>
      {drag.at && (
        <InHand style={{ left: drag.at.x - 20, top: drag.at.y - 20 }}>
          <Disc from={job?.palette.find((s) => s.id === drag.at?.id)?.hex ?? "#888"} size={30} />
        </InHand>
      )}
      <Once when={shelf}><ShelfDialog job={id} open={shelf} onClose={() => setShelf(false)} onTaken={added} /></Once>
      {job && ordering && <OrderDialog job={job} open onClose={() => setOrdering(false)} onOrdered={() => setOrdering(false)} />}
    </Page>
  );
}
