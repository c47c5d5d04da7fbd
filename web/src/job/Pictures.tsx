import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type ReactNode } from "react";
import styled from "styled-components";
import { Link } from "wouter";
import { api, explain, problemOf, type Job, type PictureSummary } from "../api/client";
import { Cover, Gone, Grid } from "../jobs/JobsPage";
import { Button, Notice } from "../look/controls";
import { CoverImage } from "../look/CoverImage";
import { TypedField } from "../look/TypedField";
import { MenuButton } from "../look/MenuButton";
import * as words from "../words/job";

const Below = styled.div`
  display: flex;
  align-items: start;
  justify-content: space-between;
  gap: 4px;
  > :first-child { min-width: 0; flex: 1; }
`;

/** A menu that closes gives the focus back to its button; a field that comes for it comes after that, in milliseconds. */
const afterMenu = 80;

const Whole = styled.section`display: grid; gap: 12px;`;
const Title = styled.b`overflow-wrap: anywhere;`;
const Facts = styled.div.attrs({ className: "num" })`color: var(--ink3);`;
const Credit = styled.div`color: var(--ink2); font-size: 12px; overflow-wrap: anywhere;`;
const Typed = styled(TypedField)`width: 100%;`;
const Trash = styled.details`
  summary { cursor: default; color: var(--ink2); }
  > p { color: var(--ink3); margin: 6px 0 10px; }
`;

const PartCount = ({ p }: { p: PictureSummary }) => <>{p.parts === 0 ? words.noPartsYet : words.partsCounted(p.parts)}</>;

/** A job's pictures in their order: opened, renamed, moved, removed and brought back. */
export function Pictures({ job, children }: { job: Job; children: ReactNode }) {
  const queries = useQueryClient();
  const [naming, setNaming] = useState<string>();
  const [removed, setRemoved] = useState<PictureSummary>();
  const [problem, setProblem] = useState<string>();
  const triggers = useRef(new Map<string, HTMLButtonElement>());
  const act = async (does: Promise<{ error?: unknown; response: Response }>) => {
    try {
      const { error, response } = await does;
      if (!response.ok) throw problemOf(error, response.status);
      setProblem(undefined);
    } catch (e) {
      setProblem(explain(e));
    }
    await queries.invalidateQueries({ queryKey: ["job", job.id] });
  };
  const of = (id: string) => ({ params: { path: { picture: id } } });
  const move = (i: number, by: 1 | -1) => {
    const [p, before] = [job.pictures[i], job.pictures[by < 0 ? i - 1 : i + 2]];
    if (p) void act(api.PATCH("/api/pictures/{picture}", { ...of(p.id), body: before ? { before: before.id } : { last: true } }));
  };
  const bringBack = (id: string) => {
    setRemoved(undefined);
    void act(api.PATCH("/api/pictures/{picture}", { ...of(id), body: { removed: false } }));
  };
  const named = (p: PictureSummary) => {
    setNaming(undefined);
    setTimeout(() => triggers.current.get(p.id)?.focus());
  };
  return (
    <Whole aria-label={words.pictures}>
      {problem && <Notice strong>{problem}</Notice>}
      {removed && <Notice>{words.removedIsRemoved(removed.name)}<Button onPress={() => bringBack(removed.id)}>{words.bringItBack}</Button></Notice>}
      <Grid>
        {job.pictures.map((p, i) => (
          <li key={p.id}>
            <Link href={`/pictures/${p.id}`} aria-label={p.name}>
              <Cover>
                <CoverImage src={`/api/pictures/${p.id}/cover?size=480&revision=${p.revision}`} style={p.format === "svg" ? { objectFit: "contain", background: "#fff" } : undefined} />
              </Cover>
            </Link>
            <Below>
              <div>
                {naming === p.id ? (
                  <Typed autoFocus chosen aria-label={words.nameOfThePicture} value={p.name} onValue={(name) => void act(api.PATCH("/api/pictures/{picture}", { ...of(p.id), body: { name } }))} onLeave={() => named(p)} />
                ) : <Title>{p.name}</Title>}
                <Facts><PartCount p={p} /> · {p.width} × {p.height}</Facts>
                {p.origin && <Credit title={`${p.origin.licence.says.join(" ")} ${p.origin.licence.credit}`}>{p.origin.author}, {p.origin.source} · {p.origin.licence.name}</Credit>}
              </div>
              <MenuButton
                label={words.moreForName(p.name)}
                low
                ref={(b: HTMLButtonElement | null) => { if (b) triggers.current.set(p.id, b); }}
                groups={[{ entries: [
                  { label: words.rename, onAction: () => { setTimeout(() => setNaming(p.id), afterMenu); } },
                  { label: words.moveEarlier, disabled: i === 0, onAction: () => move(i, -1) },
                  { label: words.moveLater, disabled: i === job.pictures.length - 1, onAction: () => move(i, 1) },
                  { label: words.remove, onAction: () => { setRemoved(p); void act(api.DELETE("/api/pictures/{picture}", of(p.id))); } },
                ] }]}
              >
                ⋯
              </MenuButton>
            </Below>
          </li>
        ))}
        {children}
      </Grid>
      {job.trash.length > 0 && (
        <Trash>
          <summary>{words.removedPicturesTrash(job.trash.length)}</summary>
          <p>{words.theyCanBeBroughtBackHere}</p>
          <Grid aria-label={words.removedPictures}>
            {job.trash.map((p) => (
              <li key={p.id}>
                <Gone><CoverImage src={`/api/pictures/${p.id}/cover?size=480&revision=${p.revision}`} /></Gone>
                <Below>
                  <div>
                    <Title>{p.name}</Title>
                    <Facts><PartCount p={p} /></Facts>
                  </div>
                  <Button $kind="quiet" aria-label={words.bringNameBack(p.name)} onPress={() => bringBack(p.id)}>{words.bringBack}</Button>
                </Below>
              </li>
            ))}
          </Grid>
        </Trash>
      )}
    </Whole>
  );
}
