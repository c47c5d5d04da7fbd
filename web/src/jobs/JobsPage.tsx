import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { Link } from "wouter";
import { navigate } from "wouter/use-browser-location";
import { api, explain, unwrap } from "../api/client";
import { Bar, Button, Notice, Segmented, Space } from "../look/controls";
import { CoverImage } from "../look/CoverImage";
import { Field } from "../look/Field";
import { MenuButton } from "../look/MenuButton";
import { Brand } from "../look/Trail";
import { Faint, Flow, Named } from "../look/layout";
import * as words from "../words/jobs";

export const Grid = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(216px, 1fr));
  gap: 20px 16px;
`;
export const Cover = styled.span`
  display: block;
  aspect-ratio: 3 / 2;
  border-radius: 5px;
  background: #d9d9d9;
  overflow: hidden;
  margin-bottom: 7px;
  img { width: 100%; height: 100%; object-fit: cover; display: block; }
`;
export const Gone = styled(Cover)`opacity: 0.55;`;
const Search = styled(Field)`width: 220px; margin-left: 8px;`;
const Page = styled.main`
  padding: 24px 22px;
  display: grid;
  gap: 20px;
`;

/** All jobs: found by name, copied, archived, deleted and brought back. */
export function JobsPage() {
  const queries = useQueryClient();
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: () => unwrap(api.GET("/api/jobs")) });
  const [search, setSearch] = useState("");
  const trash = useQuery({ queryKey: ["jobs", "trash"], queryFn: () => unwrap(api.GET("/api/jobs", { params: { query: { removed: true } } })) });
  const [which, setWhich] = useState<"active" | "archived" | "trash">("active");
  const [deleted, setDeleted] = useState<{ id: string; name: string }>();
  const [problem, setProblem] = useState<string>();
  const create = useMutation({
    mutationFn: () => unwrap(api.POST("/api/jobs", { body: { name: words.newJob } })),
    onSuccess: (j) => navigate(`/jobs/${j.id}`),
  });
  const act = async (what: () => Promise<unknown>) => {
    try {
      await what();
      setProblem(undefined);
      await queries.invalidateQueries({ queryKey: ["jobs"] });
    } catch (e) {
      setProblem(explain(e));
    }
  };
  const [opening, setOpening] = useState(false);
  const bring = async (file: File) => {
    setOpening(true);
    await act(() => unwrap(api.POST("/api/archives", { body: file as unknown as string, bodySerializer: (b) => b, headers: { "Content-Type": "application/octet-stream" } })));
    setOpening(false);
  };
  const change = (job: string, body: { archived?: boolean; removed?: boolean }) => unwrap(api.PATCH("/api/jobs/{job}", { params: { path: { job } }, body }));
  const wanted = search.trim().toLowerCase();
  const shown = (which === "trash" ? (trash.data ?? []) : (jobs.data ?? []).filter((j) => !!j.archived === (which === "archived"))).filter((j) => j.name.toLowerCase().includes(wanted));
  const put = (jobs.data ?? []).filter((j) => j.archived).length;
  const binned = trash.data?.length ?? 0;
  return (
    <>
      <Bar>
        <Brand />
        <Space />
        <FileTrigger acceptedFileTypes={[".zip"]} onSelect={(f) => { const one = f?.[0]; if (one) void bring(one); }}>
          <Button isDisabled={opening}>{opening ? words.openingTheBackupFile : words.openABackupFile}</Button>
        </FileTrigger>
        <Button $kind="solid" onPress={() => create.mutate()} isDisabled={create.isPending}>
          {words.newJob}
        </Button>
      </Bar>
      <Page>
        <Flow $gap={12}>
          <h1>{words.jobs}</h1>
          {(jobs.data?.length ?? 0) > 0 && <Search aria-label={words.searchJobsByName} placeholder={words.searchByName} value={search} onChange={(e) => setSearch(e.target.value)} />}
          {(put > 0 || binned > 0 || which !== "active") && <Segmented small label={words.whichJobs} value={which} onChange={setWhich} options={[["active", words.active], ["archived", words.archivedPut(put)], ["trash", words.trashBinned(binned)]]} />}
        </Flow>
        {(jobs.error ?? create.error) && <Notice strong>{explain(jobs.error ?? create.error)}</Notice>}
        {problem && <Notice strong>{problem}</Notice>}
        {deleted && (
          <Notice>
            {words.deletedIsDeleted(deleted.name)}<Button onPress={() => void act(async () => { await change(deleted.id, { removed: false }); setDeleted(undefined); })}>{words.bringItBack}</Button>
          </Notice>
        )}
        {which === "trash" && <Faint as="p">{words.deletedJobsCanBeBroughtBack}</Faint>}
        {jobs.data?.length === 0 && which === "active" && <Notice>{words.noJobYetMakeOneThen}</Notice>}
        {((jobs.data?.length ?? 0) > 0 || which !== "active") && shown.length === 0 && <Faint as="p">{wanted && which !== "trash" ? words.noJobIsCalledAnythingLike(search.trim()) : words.noneHere}</Faint>}
        <Grid>
          {shown.map((j) => (
            <li key={j.id}>
              {which === "trash" ? (
                <div>
                  <Gone>{j.cover && <CoverImage src={`/api/pictures/${j.cover}/cover?size=480`} />}</Gone>
                  <Named>{j.name}</Named>
                </div>
              ) : (
                <Link href={`/jobs/${j.id}`}>
                  <Cover>{j.cover && <CoverImage src={`/api/pictures/${j.cover}/cover?size=480`} />}</Cover>
                  <Named>{j.name}</Named>
                </Link>
              )}
              <Faint as={Flow} $apart>
                <span className="num">{words.picturesCounted(j.pictures)}</span>
                {which === "trash" ? <Button $kind="quiet" $low onPress={() => void act(async () => { await change(j.id, { removed: false }); setDeleted(undefined); })} aria-label={words.bringNameBack(j.name)}>{words.bringBack}</Button> : <MenuButton
                  label={words.moreForName(j.name)}
                  low
                  placement="bottom"
                  groups={[{ entries: [
                    { label: words.duplicate, onAction: () => void act(() => unwrap(api.POST("/api/jobs/{job}/duplicate", { params: { path: { job: j.id } }, body: { name: words.nameCopy(j.name).slice(0, 200) } }))) },
                    { label: words.saveABackupFile, download: `/api/jobs/${j.id}/archive` },
                    { label: j.archived ? words.makeActive : words.archive, onAction: () => void act(() => change(j.id, { archived: !j.archived })) },
                    { label: words.deleteIt, onAction: () => void act(async () => { await change(j.id, { removed: true }); setDeleted(j); }) },
                  ] }]}
                >
                  ⋯
                </MenuButton>}
              </Faint>
            </li>
          ))}
        </Grid>
      </Page>
    </>
  );
}
