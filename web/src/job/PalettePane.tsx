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
      join(list, `colours of ${file.name}`);
    } catch (e) {
      setProblem(`${file.name}: ${explain(e)}. Nothing of it was taken.`);
    }
  };
  const from = async (picture: string, name: string) => {
    try {
      const list = await queries.fetchQuery({ queryKey: ["colours", picture], queryFn: () => unwrap(api.GET("/api/pictures/{picture}/colours", { params: { path: { picture }, query: { k: 5 } } })) });
      join(list.map((t, i) => ({ name: `${name} ${i + 1}`, css: t.css, tolerance: 2 })), `colours of ${name}`);
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const used = (id: string) => job.colourways.filter((w) => Object.values(w.cells).some((c) => c.target.palette_id === id)).map((w) => w.name);
  return (
    <section aria-label="Palette">
      <Flow $apart>
        <h2>Palette</h2>
        {job.colourways.length > 0 && job.palette.length > 0 && <Small>drag onto a cell or a column</Small>}
      </Flow>
      {job.palette.length === 0 && <Faint as="p">No colours yet.</Faint>}
      {job.palette.map((s) => (
        <Row key={s.id}>
          <span onPointerDown={onDragStart(s.id)}><Disc from={s.hex ?? "#888"} size={30} /></span>
          <span>
            <b>{s.name}</b>
            <br />
            <Faint className="num">
              Lab {s.lab?.map((v) => Math.round(v)).join(" ")} · ± {s.tolerance.toFixed(1)}
            </Faint>
            {s.uncalibrated && <Small>uncalibrated CMYK</Small>}
            {s.near && <Small>hardly differs from {s.near}</Small>}
          </span>
          <Button $kind="quiet" aria-expanded={open === s.id} aria-label={`Edit ${s.name}`} onPress={() => setOpen(open === s.id ? undefined : s.id)}>Edit</Button>
          {open === s.id && (
            <Edit>
              <span>Name</span>
              <TypedField aria-label="Name of the colour" value={s.name} onValue={(name) => set(s.id, "rename colour", { name })} />
              <span />
              <span>Colour</span>
              <Looking value={{ job: job.id, inks: job.inks }}><ColourField label="Colour" value={s.css} placeholder="#1d6a72, lab(), cmyk()" row={3} onColour={(css) => set(s.id, "change colour", { css })} /></Looking>
              <span />
              <span>Tolerance</span>
              <TypedField aria-label="Tolerance, CIEDE2000" value={String(s.tolerance)} read={toleranceFrom} size={4} onValue={(v) => set(s.id, "tolerance", { tolerance: Number(v) })} />
              <Button onPress={() => void editing.edit("delete colour", (c) => ({ ...c, palette: c.palette.filter((q) => q.id !== s.id) }))}>Delete</Button>
              {used(s.id).length > 0 && <Used>Used in {used(s.id).join(", ")}: a change is a change there too.</Used>}
            </Edit>
          )}
        </Row>
      ))}
      <Tools $gap={6} $wrap>
        <Button onPress={() => { const name = freshName("New colour", job.palette.map((s) => s.name)); join([{ name, css: "#8a8a8a", tolerance: 2 }], "new colour"); }}>New colour</Button>
        <FileTrigger acceptedFileTypes={[".json", ".css", ".csv", ".txt", ".cgats"]} onSelect={(f) => { const one = f?.[0]; if (one) void read(one); }}>
          <Button>From a file</Button>
        </FileTrigger>
        <Button onPress={() => setMeasuring(true)}>Measure</Button>
        {job.pictures[0] && <Button onPress={() => { const p = job.pictures[0]; if (p) void from(p.id, p.name); }}>From the first picture</Button>}
      </Tools>
      {job.palette.length > 0 && (
        <SaveAs>
          Save as{" "}
          {(["tokens", "css", "csv", "cgats"] as const).map((f, i) => (
            <span key={f}>
              {i > 0 && ", "}
              <a href={`/api/jobs/${job.id}/palette-file?format=${f}`} download>{{ tokens: "Design Tokens", css: "CSS properties", csv: "CSV", cgats: "CGATS" }[f]}</a>
            </span>
          ))}
        </SaveAs>
      )}
      <Tools $gap={6} $wrap>
        {job.inks ? (
          <>
            <LongSmall>CMYK is read through {job.inks.name}.</LongSmall>
            <Button $kind="quiet" onPress={() => void editing.edit("no ink profile", (c) => ({ ...c, inks: undefined }))}>Without</Button>
          </>
        ) : (
          <FileTrigger acceptedFileTypes={[".icc", ".icm"]} onSelect={(f) => { const one = f?.[0]; if (one) void editing.inks(one); }}>
            <Button>Ink profile for CMYK</Button>
          </FileTrigger>
        )}
      </Tools>
      <MeasureDialog use="Put into the palette" named open={measuring} onClose={() => setMeasuring(false)} onTake={(name, css) => join([{ name, css, tolerance: 2 }], `measured ${name}`)} />
      {problem && <Notice strong>{problem} <Button $kind="quiet" onPress={() => setProblem(undefined)}>Dismiss</Button></Notice>}
    </section>
  );
}
