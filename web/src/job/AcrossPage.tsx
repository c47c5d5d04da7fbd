import { useQueries } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, explain, unwrap } from "../api/client";
import { Bar, Button, Notice } from "../look/controls";
import { isNotHere, NotHere } from "../look/NotHere";
import { useTitle } from "../look/useTitle";
import { Disc } from "../look/Disc";
import { Select, Small } from "../look/Field";
import { isIn } from "../colourways";
import { useJob } from "./useJob";
import { Trail } from "../look/Trail";
import { Flow } from "../look/layout";
import * as words from "../words/job";

const Page = styled.div`
  display: grid;
  grid-template-rows: 44px 1fr;
  height: 100%;
`;
const Main = styled.main`
  padding: 20px;
  overflow: auto;
  display: grid;
  gap: 14px;
  align-content: start;
`;
const Table = styled.table`
  border-collapse: collapse;
  background: var(--card);
  th, td { border: 1px solid var(--rule); padding: 7px 12px; text-align: left; }
  td.num { text-align: right; }
  tr[data-odd] th, tr[data-odd] td { box-shadow: inset 0 0 0 1px var(--ink); background: #fff; }
`;

const css = (l: number[]) => `lab(${l.map((v) => Math.round(v * 100) / 100).join(" ")})`;

/** The same part in several pictures: how far its results are from each other, and which is the odd one out. */
export function AcrossPage({ id }: { id: string }) {
  const editing = useJob(id);
  const { job } = editing;
  useTitle(job?.name);
  const [at, setAt] = useState<string>();
  const [way, setWay] = useState("");
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const [round, setRound] = useState(0);
  const rows = job?.rows ?? [];
  const row = rows.find((r) => r.key === at) ?? rows.find((r) => r.pictures.length > 1) ?? rows[0];
  const pictures = row ? (job?.pictures ?? []).filter((p) => row.pictures.includes(p.id)) : [];
  const proofs = useQueries({
    queries: pictures.map((p) => ({
      queryKey: ["across", p.id, p.revision, way, job?.revision, round],
      queryFn: async () => {
        const proof = await unwrap(api.POST("/api/pictures/{picture}/proof", { params: { path: { picture: p.id } }, body: { colourway: way } }));
        return { picture: p, part: proof.parts.find((q) => row && isIn(row, q)) };
      },
    })),
  });
  const found = proofs.flatMap((q) => (q.data?.part ? [{ picture: q.data.picture, part: q.data.part, lab: q.data.part.lit_lab ?? q.data.part.own }] : []));
  const pairs = useQueries({
    queries: found.flatMap((a, i) => found.slice(i + 1).map((b) => ({ queryKey: ["difference", css(a.lab), css(b.lab)], staleTime: Infinity, queryFn: () => unwrap(api.GET("/api/difference", { params: { query: { a: css(a.lab), b: css(b.lab) } } })) }))),
  });
  const between = (i: number, j: number) => {
    if (i === j) return 0;
    const [a, b] = [Math.min(i, j), Math.max(i, j)];
    let at = 0;
    for (let k = 0; k < a; k++) at += found.length - 1 - k;
    return pairs[at + b - a - 1]?.data?.delta_e00;
  };
  const total = found.map((_, i) => found.reduce((n, __, j) => n + (between(i, j) ?? 0), 0) / Math.max(1, found.length - 1));
  const most = Math.max(...total, 0);
  const odd = found.length > 2 && most > 1 ? total.indexOf(most) : -1;
  const least = total.indexOf(Math.min(...total));
  // The picture nearest to all others is left alone; the match point of each other one is put where its lit tone is.
  const bring = async () => {
    if (!row) return;
    setBusy(true);
    setProblem(undefined);
    try {
      for (const [i, f] of found.entries()) {
        if (i === least || (between(i, least) ?? 0) < 0.3 || !f.part.lit_at) continue;
        for (;;) {
          const now = await unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: f.picture.id } } }));
          const document = { ...now.document, parts: now.document.parts.map((q) => (isIn(row, q) ? { ...q, match: f.part.lit_at } : q)) };
          const { response, error } = await api.PUT("/api/pictures/{picture}/document", { params: { path: { picture: f.picture.id } }, body: { base: now.revision, label: words.matchAcrossPictures, document } });
          if (response.status === 409) continue;
          if (!response.ok) throw new Error((error as { message?: string } | undefined)?.message ?? words.theServerAnsweredStatus(response.status));
          break;
        }
      }
      setRound((n) => n + 1);
    } catch (e) {
      setProblem(explain(e));
    } finally {
      setBusy(false);
    }
  };
  if (isNotHere(editing.error)) return <NotHere what="job" />;
  return (
    <Page>
      <Bar>
        <Trail back={{ href: `/jobs/${id}`, name: job?.name ?? words.theJob }}>{words.acrossPictures}</Trail>
      </Bar>
      <Main>
        <Flow $gap={10}>
          <Select aria-label={words.part} value={row?.key ?? ""} onChange={(e) => setAt(e.target.value)}>{rows.map((r) => <option key={r.key} value={r.key}>{r.name} · {r.pictures.length}</option>)}</Select>
          <Select aria-label={words.colourway} value={way} onChange={(e) => setWay(e.target.value)}>{[{ id: "", name: words.asSet }, ...(job?.colourways ?? [])].map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}</Select>
          <Button isDisabled={busy || found.length < 2} onPress={() => void bring()}>{words.matchAcrossPicturesHigh}</Button>
        </Flow>
        {problem && <Notice strong>{problem}</Notice>}
        {job && rows.length === 0 && <Notice>{words.noPartHasBeenIsolatedYet}</Notice>}
        {row && pictures.length < 2 && <Notice>{words.rowIsInOnePictureOnly(row.name)}</Notice>}
        {pictures.length > 1 && found.length < pictures.length && <Notice>{proofs.some((q) => q.isLoading) ? words.measuringThePictures : words.somePicturesCouldNotBeMeasured}</Notice>}
        {found.length > 1 && (
          <>
            <Table aria-label={words.differencesBetweenPictures}>
              <thead>
                <tr><th>{words.picture}</th><th>{words.litToneOfTheResult}</th>{found.map((f) => <th key={f.picture.id}>{f.picture.name}</th>)}<th>{words.toTheOthers}</th></tr>
              </thead>
              <tbody>
                {found.map((f, i) => (
                  <tr key={f.picture.id} data-odd={i === odd || undefined}>
                    <th>{f.picture.name}{i === odd && <Small>{words.theOddOneOut}</Small>}</th>
                    <td><Flow as="span" $gap={8}><Disc from={f.part.own_hex} to={f.part.want_hex} ring={f.part.state} size={22} /><span className="num">{words.lab}{f.lab.map((v) => Math.round(v)).join(" ")}</span></Flow></td>
                    {found.map((g, j) => <td key={g.picture.id} className="num">{i === j ? "" : (between(i, j)?.toFixed(1) ?? "…")}</td>)}
                    <td className="num">{total[i]?.toFixed(1)}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
            <Small>{words.ciede2000BetweenTheMedianLitTones}</Small>
          </>
        )}
      </Main>
    </Page>
  );
}
