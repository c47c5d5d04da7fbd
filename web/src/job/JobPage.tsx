import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { FileTrigger, ProgressBar } from "react-aria-components";
import styled from "styled-components";
import { api, explain, unwrap } from "../api/client";
import { Bar, Brand, Button, Notice, Space } from "../look/controls";
import { Disc } from "../look/Disc";
import { Cover, Grid } from "../jobs/JobsPage";
import { go } from "../router";
import { Deliveries } from "./Deliveries";
import { useUploads, type Upload } from "./useUploads";

const Page = styled.div`
  display: grid;
  grid-template: 44px 1fr / 1fr 300px;
  height: 100%;
  > header { grid-column: 1 / 3; }
`;
const Main = styled.main<{ $over: boolean }>`
  overflow: auto;
  padding: 20px;
  display: grid;
  gap: 18px;
  align-content: start;
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
const Name = styled.input`
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
const SwatchRow = styled.div`
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 10px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
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
export const Meter = styled.div`
  height: 4px;
  border-radius: 2px;
  background: #cdcdcd;
  overflow: hidden;
  i { display: block; height: 100%; background: var(--ink); }
`;

function UploadLine({ u, again, dismiss }: { u: Upload; again: () => void; dismiss: () => void }) {
  const failed = u.state === "failed";
  return (
    <UploadRow>
      <b title={u.name}>{u.name}</b>
      {failed ? (
        <span>
          <Button onPress={again}>Try again</Button> <Button $kind="quiet" onPress={dismiss}>Dismiss</Button>
        </span>
      ) : (
        <span className="num">{u.state === "done" ? "in the job" : u.state === "waiting" ? "waiting" : u.sent < 1 ? `${Math.round(u.sent * 100)} %` : "reading"}</span>
      )}
      {failed && <p role="alert">Not taken: {u.problem}.</p>}
      {u.state === "sending" && (
        <ProgressBar aria-label={`Sending ${u.name}`} value={u.sent * 100} style={{ gridColumn: "1 / 3" }}>
          <Meter><i style={{ width: `${u.sent * 100}%` }} /></Meter>
        </ProgressBar>
      )}
    </UploadRow>
  );
}

/** A job: its pictures, its palette, its deliveries. */
export function JobPage({ id }: { id: string }) {
  const queries = useQueryClient();
  const job = useQuery({ queryKey: ["job", id], queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: id } } })) });
  const added = useCallback(() => void queries.invalidateQueries({ queryKey: ["job", id] }), [queries, id]);
  const uploads = useUploads(id, added);
  const [over, setOver] = useState(false);
  const [problem, setProblem] = useState<string>();
  const { add } = uploads;

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
    if (!job.data || name.trim() === "" || name === job.data.name) return;
    try {
      queries.setQueryData(["job", id], await unwrap(api.PATCH("/api/jobs/{job}", { params: { path: { job: id } }, body: { name: name.trim() } })));
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const open = (picture: string) => (e: React.MouseEvent) => {
    e.preventDefault();
    go(`/pictures/${picture}`);
  };
  const shown = uploads.list.filter((u) => u.state !== "done");
  return (
    <Page>
      <Bar>
        <Brand onGo={(e) => { e.preventDefault(); go("/"); }} />
        <nav aria-label="Where you are">
          <a href="/" onClick={(e) => { e.preventDefault(); go("/"); }}>Jobs</a> / <b>{job.data?.name}</b>
        </nav>
        <Space />
      </Bar>
      <Main $over={over}>
        {job.error && <Notice strong>{explain(job.error)}</Notice>}
        {problem && <Notice strong>{problem}</Notice>}
        {job.data && (
          <>
            <div>
              <Name key={job.data.name} aria-label="Name of the job" defaultValue={job.data.name} maxLength={200} onBlur={(e) => void rename(e.target.value)} onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); }} />
              <span className="num" style={{ color: "var(--ink3)", display: "block" }}>
                {job.data.pictures.length === 1 ? "1 picture" : `${job.data.pictures.length} pictures`} · {((n) => (n === 1 ? "1 part" : `${n} parts`))(job.data.pictures.reduce((n, p) => n + p.parts, 0))}
              </span>
            </div>
            {shown.length > 0 && (
              <ul aria-label="Files coming in" style={{ listStyle: "none", margin: 0, padding: 0, display: "grid", gap: 6 }}>
                {shown.map((u) => (
                  <UploadLine key={u.key} u={u} again={() => uploads.again(u)} dismiss={() => uploads.dismiss(u.key)} />
                ))}
              </ul>
            )}
            <Grid>
              {job.data.pictures.map((p) => (
                <li key={p.id}>
                  <a href={`/pictures/${p.id}`} onClick={open(p.id)}>
                    <Cover>
                      <img src={`/api/pictures/${p.id}/cover?size=480&revision=${p.revision}`} alt="" loading="lazy" />
                    </Cover>
                    <b style={{ overflowWrap: "anywhere" }}>{p.name}</b>
                    <div className="num" style={{ color: "var(--ink3)" }}>
                      {p.parts === 0 ? "no parts yet" : p.parts === 1 ? "1 part" : `${p.parts} parts`} · {p.width} × {p.height}
                    </div>
                  </a>
                </li>
              ))}
              <li>
                <Drop>
                  <span>{over ? "Let go to bring them in" : "Drop photos anywhere"}</span>
                  <FileTrigger allowsMultiple acceptedFileTypes={["image/jpeg", "image/png", "image/webp", "image/tiff"]} onSelect={(f) => { if (f) add([...f]); }}>
                    <Button>Choose files</Button>
                  </FileTrigger>
                  <small style={{ color: "var(--ink3)" }}>JPEG, PNG, WebP, TIFF; 8 or 16 bit</small>
                </Drop>
              </li>
            </Grid>
          </>
        )}
      </Main>
      <Side>
        <h2>Palette</h2>
        {job.data?.palette.length === 0 && <p style={{ color: "var(--ink3)" }}>No colours yet.</p>}
        {job.data?.palette.map((s) => (
          <SwatchRow key={s.id}>
            <Disc from={s.hex ?? "#888"} size={34} />
            <span>
              <b>{s.name}</b>
              <br />
              <span className="num" style={{ color: "var(--ink3)" }}>Lab {s.lab?.map((v) => Math.round(v)).join(" ")}</span>
            </span>
            <span className="num" title="tolerance, CIEDE2000">± {s.tolerance.toFixed(1)}</span>
          </SwatchRow>
        ))}
        <Deliveries job={id} />
      </Side>
    </Page>
  );
}
