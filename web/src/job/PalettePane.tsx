import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { api, explain, unwrap, type Job, type Swatch } from "../api/client";
import { ColourField } from "../bench/colour/ColourField";
import { Looking } from "../bench/colour/looking";
import { freshName } from "../colourways";
import { Button, Notice } from "../look/controls";
import { Disc } from "../look/Disc";
import { Small } from "../look/Field";
import { TypedField, numberFrom } from "../look/TypedField";
import { MeasureDialog } from "../reader/MeasureDialog";
import type { JobEditing } from "./useJob";
import { Faint, Flow } from "../look/layout";
import * as words from "../words/job";

const Tools = styled(Flow)`margin: 10px 0;`;
const SaveAs = styled(Small)`a { text-decoration: underline; }`;
const Used = styled(Small)`grid-column: 1 / 4;`;
const LongSmall = styled(Small)`overflow-wrap: anywhere;`;

const Row = styled.div`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 8px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
  touch-action: none;
  > :first-child { cursor: grab; }
  b { overflow-wrap: anywhere; }
`;
const Edit = styled.div`
  grid-column: 1 / 4;
  display: grid;
  grid-template-columns: 62px minmax(0, 1fr) auto;
  gap: 6px 8px;
  align-items: center;
  padding-bottom: 8px;
`;

interface Props {
  job: Job;
  editing: JobEditing;
  onDragStart: (id: string) => (e: React.PointerEvent) => void;
}

const toleranceFrom = numberFrom(0, 100);

/** The job's named colours: edited field by field, dragged onto cells, read from files and taken from pictures. */
export function PalettePane({ job, editing, onDragStart }: Props) {
  const queries = useQueryClient();
  const [open, setOpen] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const [measuring, setMeasuring] = useState(false);
  const set = (id: string, label: string, what: Partial<Swatch>) => void editing.edit(label, (c) => ({ ...c, palette: c.palette.map((s) => (s.id === id ? { ...s, ...what } : s)) }));
  const join = (list: Pick<Swatch, "name" | "css" | "tolerance">[], label: string) => {
    const ids = list.map(() => crypto.randomUUID());
    void editing.edit(label, (c) => {
      const names = c.palette.map((s) => s.name);
      return { ...c, palette: [...c.palette, ...list.map((s, i) => { const name = freshName(s.name, names); names.push(name); return { id: ids[i] ?? s.name, name, css: s.css, tolerance: s.tolerance }; })] };
    });
  };
  const read = async (file: File) => {
    try {
      const list = await unwrap(api.POST("/api/palette-file", { body: await file.text(), bodySerializer: (b) => b, headers: { "Content-Type": "text/plain" } }));
      setProblem(undefined);
      join(list, words.coloursOfFile(file.name));
    } catch (e) {
      setProblem(words.nothingOfItWasTaken(file.name, explain(e)));
    }
  };
  const from = async (picture: string, name: string) => {
    try {
      const list = await queries.fetchQuery({ queryKey: ["colours", picture], queryFn: () => unwrap(api.GET("/api/pictures/{picture}/colours", { params: { path: { picture }, query: { k: 5 } } })) });
      join(list.map((t, i) => ({ name: `${name} ${i + 1}`, css: t.css, tolerance: 2 })), words.coloursOfName(name));
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const used = (id: string) => job.colourways.filter((w) => Object.values(w.cells).some((c) => c.target.palette_id === id)).map((w) => w.name);
  return (
    <section aria-label={words.palette}>
      <Flow $apart>
        <h2>{words.palette}</h2>
        {job.colourways.length > 0 && job.palette.length > 0 && <Small>{words.dragOntoACellOrA}</Small>}
      </Flow>
      {job.palette.length === 0 && <Faint as="p">{words.noColoursYet}</Faint>}
      {job.palette.map((s) => (
        <Row key={s.id}>
          <span onPointerDown={onDragStart(s.id)}><Disc from={s.hex ?? "#888"} size={30} /></span>
          <span>
            <b>{s.name}</b>
            <br />
            <Faint className="num">
              {words.lab}{s.lab?.map((v) => Math.round(v)).join(" ")} · ± {s.tolerance.toFixed(1)}
            </Faint>
            {s.uncalibrated && <Small>{words.uncalibratedCmyk}</Small>}
            {s.near && <Small>{words.hardlyDiffersFromNear(s.near)}</Small>}
          </span>
          <Button $kind="quiet" aria-expanded={open === s.id} aria-label={words.editName(s.name)} onPress={() => setOpen(open === s.id ? undefined : s.id)}>{words.edit}</Button>
          {open === s.id && (
            <Edit>
              <span>{words.name}</span>
              <TypedField aria-label={words.nameOfTheColour} value={s.name} onValue={(name) => set(s.id, words.renameColour, { name })} />
              <span />
              <span>{words.colour}</span>
              <Looking value={{ job: job.id, inks: job.inks }}><ColourField label={words.colour} value={s.css} placeholder={words.n1d6a72LabCmyk} row={3} onColour={(css) => set(s.id, words.changeColour, { css })} /></Looking>
              <span />
              <span>{words.tolerance}</span>
              <TypedField aria-label={words.toleranceCiede2000} value={String(s.tolerance)} read={toleranceFrom} size={4} onValue={(v) => set(s.id, words.toleranceLow, { tolerance: Number(v) })} />
              <Button onPress={() => void editing.edit(words.deleteColour, (c) => ({ ...c, palette: c.palette.filter((q) => q.id !== s.id) }))}>{words.deleteIt}</Button>
              {used(s.id).length > 0 && <Used>{words.usedInAChangeIsAChange(used(s.id).join(", "))}</Used>}
            </Edit>
          )}
        </Row>
      ))}
      <Tools $gap={6} $wrap>
        <Button onPress={() => { const name = freshName(words.newColour, job.palette.map((s) => s.name)); join([{ name, css: "#8a8a8a", tolerance: 2 }], "new colour"); }}>{words.newColour}</Button>
        <FileTrigger acceptedFileTypes={[".json", ".css", ".csv", ".txt", ".cgats"]} onSelect={(f) => { const one = f?.[0]; if (one) void read(one); }}>
          <Button>{words.fromAFile}</Button>
        </FileTrigger>
        <Button onPress={() => setMeasuring(true)}>{words.measure}</Button>
        {job.pictures[0] && <Button onPress={() => { const p = job.pictures[0]; if (p) void from(p.id, p.name); }}>{words.fromTheFirstPicture}</Button>}
      </Tools>
      {job.palette.length > 0 && (
        <SaveAs>
          {words.saveAs}
          {(["tokens", "css", "csv", "cgats"] as const).map((f, i) => (
            <span key={f}>
              {i > 0 && ", "}
              <a href={`/api/jobs/${job.id}/palette-file?format=${f}`} download>{{ tokens: words.designTokens, css: words.cssProperties, csv: "CSV", cgats: "CGATS" }[f]}</a>
            </span>
          ))}
        </SaveAs>
      )}
      <Tools $gap={6} $wrap>
        {job.inks ? (
          <>
            <LongSmall>{words.cmykIsReadThroughInks(job.inks.name)}</LongSmall>
            <Button $kind="quiet" onPress={() => void editing.edit(words.noInkProfile, (c) => ({ ...c, inks: undefined }))}>{words.without}</Button>
          </>
        ) : (
          <FileTrigger acceptedFileTypes={[".icc", ".icm"]} onSelect={(f) => { const one = f?.[0]; if (one) void editing.inks(one); }}>
            <Button>{words.inkProfileForCmyk}</Button>
          </FileTrigger>
        )}
      </Tools>
      <MeasureDialog use={words.putIntoThePalette} named open={measuring} onClose={() => setMeasuring(false)} onTake={(name, css) => join([{ name, css, tolerance: 2 }], words.measuredName(name))} />
      {problem && <Notice strong>{problem} <Button $kind="quiet" onPress={() => setProblem(undefined)}>{words.dismiss}</Button></Notice>}
    </section>
  );
}
