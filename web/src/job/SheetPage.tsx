import { useEffect, useState } from "react";
import styled from "styled-components";
import { navigate } from "wouter/use-browser-location";
import type { Colourway, Job, PictureSummary } from "../api/client";
import { lab } from "../bench/figures";
import { Waiting } from "../look/Bench";
import { Bar, Button, Notice, Segmented } from "../look/controls";
import { isNotHere, NotHere } from "../look/NotHere";
import { useTitle } from "../look/useTitle";
import { Disc } from "../look/Disc";
import { Select } from "../look/Field";
import { TypedField } from "../look/TypedField";
import { useJob } from "./useJob";
import { coverIn, useProof } from "./useProof";
import { Trail } from "../look/Trail";
import { Faint, Flow, Named, Whole } from "../look/layout";
import * as words from "../words/job";

const Title = styled(Named)`flex: 1; min-width: 0;`;
const Discs = styled.div`display: flex; flex-wrap: wrap; gap: 2px 12px;`;
const Name = styled.h2`font-size: 21px;`;

const Page = styled.div`
  display: grid;
  grid-template-rows: 44px auto 1fr;
  height: 100%;
  @media print {
    height: auto;
    display: block;
    header, .tools { display: none; }
  }
`;
/** Only on paper. */
const Heading = styled.div`
  display: none;
  @media print { display: block; margin-bottom: 14px; }
`;
const Tools = styled.div`
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 10px 20px;
  border-bottom: 1px solid var(--rule);
`;
const Grid = styled.ul<{ $two: boolean }>`
  list-style: none;
  margin: 0;
  padding: 20px;
  overflow: auto;
  display: grid;
  grid-template-columns: ${(p) => (p.$two ? "1fr 1fr" : "repeat(auto-fill, minmax(380px, 1fr))")};
  gap: 22px 18px;
  align-content: start;
  @media print { overflow: visible; grid-template-columns: 1fr; padding: 0; }
`;
const Card = styled.li<{ $dropped: boolean }>`
  break-inside: avoid;
  content-visibility: auto;
  contain-intrinsic-size: 380px 350px;
  opacity: ${(p) => (p.$dropped ? 0.45 : 1)};
  display: grid;
  gap: 6px;
  align-content: start;
  figure { margin: 0; position: relative; aspect-ratio: 3 / 2; background: #8a8a8a; border-radius: 5px; overflow: hidden; }
  figure img { width: 100%; height: 100%; object-fit: contain; display: block; }
  .print { display: none; }
  @media print {
    opacity: 1;
    grid-template-columns: 1fr 1fr;
    > div, > input { grid-column: 1 / 3; }
    .print { display: block; }
    button, [role=radiogroup], [role=group] { display: none !important; }
    input { border: 0; padding: 0; }
    input:placeholder-shown { display: none; }
  }
`;
const Flag = styled.span`
  position: absolute;
  left: 8px;
  top: 8px;
  background: rgba(20, 20, 20, 0.84);
  color: #fff;
  border-radius: 4px;
  padding: 2px 8px;
  font-size: 12px;
`;

function One({ picture, w, stored, printing, title, picked, onPick, onOpen, onWay }: { picture: PictureSummary; w?: Colourway; stored?: Colourway; printing: boolean; title: string; picked: boolean; onPick: () => void; onOpen: () => void; onWay: (label: string, change: Partial<Colourway>) => void }) {
  const proof = useProof(picture, stored, !w || !!stored);
  const off = proof.data?.parts.filter((q) => q.state === "outside" || q.state === "unreachable") ?? [];
  return (
    <Card $dropped={w?.mark === "dropped"} data-proof={proof.isLoading ? "waiting" : undefined}>
      {printing && (
        <figure className="print">
          <img src={`${coverIn(picture, stored, 900)}&before=true`} alt={words.pictureAsItCameIn(picture.name)} />
          <Flag>{words.before}</Flag>
        </figure>
      )}
      <figure>
        <a href={`/pictures/${picture.id}${w ? `?colourway=${w.id}` : ""}`} onClick={(e) => { e.preventDefault(); onOpen(); }} aria-label={words.openTitle(title)}>
          <img src={coverIn(picture, stored, 900)} alt={title} loading={printing ? "eager" : "lazy"} />
        </a>
        {off.length > 0 && <Flag>{off.length === 1 ? words.isOutside(off[0]?.name ?? "") : words.partsOutside(off.length)}</Flag>}
      </figure>
      <Flow $gap={8}>
        <Title>{title}</Title>
        {w && <Segmented small label={words.markOfTitle(title)} value={w.mark ?? "open"} onChange={(v) => onWay(words.markName(w.name), { mark: v === "open" ? undefined : (v) })} options={[["open", words.open], ["chosen", words.chosen], ["dropped", words.dropped]]} />}
        <Button $kind="quiet" aria-pressed={picked} $held={picked} onPress={onPick}>{words.pair}</Button>
      </Flow>
      <Discs>
        {proof.data?.parts.map((q) => (
          <Flow as="span" key={q.id} $gap={4}>
            <Disc from={q.own_hex} to={q.want_hex} ring={q.state} size={18} />
            <small>{q.name} <span className="num print">{q.want && words.targetWantResultGot(lab(q.want), lab(q.got))}</span><span className="num">{q.delta_e00 === undefined ? "as it is" : words.deltaEOfTolerance((q.lit_median ?? q.delta_e00).toFixed(1), q.tolerance.toFixed(1))}</span></small>
          </Flow>
        ))}
        {picture.parts === 0 && <Faint as="small">{words.noPartsYet}</Faint>}
      </Discs>
      {w && <TypedField aria-label={words.remarkOnName(w.name)} placeholder={words.aRemark} value={w.remark ?? ""} read={(text) => text} maxLength={2000} onValue={(v) => onWay(words.remark, { remark: v || undefined })} />}
    </Card>
  );
}

/** All colourways of a picture, or all pictures of a colourway, large enough to judge; two of them side by side. */
export function SheetPage({ id }: { id: string }) {
  const editing = useJob(id);
  const { job } = editing;
  useTitle(job?.name);
  const [by, setBy] = useState<"picture" | "colourway">("picture");
  const [of, setOf] = useState<string>();
  const [pair, setPair] = useState<string[]>([]);
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    if (!printing) return;
    // A proof sheet is printed once every picture and every proof on it is there.
    const t = setInterval(() => {
      if (![...document.images].every((i) => i.complete) || document.querySelector("[data-proof=waiting]")) return;
      clearInterval(t);
      print();
      setPrinting(false);
    }, 150);
    return () => clearInterval(t);
  }, [printing]);
  if (isNotHere(editing.error)) return <NotHere what="job" />;
  if (!job) return <Waiting>{editing.error ? <Notice strong>{words.theJobCannotBeOpened}</Notice> : <Notice>{words.openingTheSheet}</Notice>}</Waiting>;
  const cards = list(job, by, of);
  const stored = (w: Colourway | undefined) => w && editing.stored?.colourways.find((q) => q.id === w.id);
  const two = pair.map((k) => cards.find((c) => c.key === k)).filter((c) => c !== undefined);
  return (
    <Page>
      <Bar>
        <Trail back={{ href: `/jobs/${id}`, name: job.name }}>{words.sheet}</Trail>
        {pair.length > 0 && <Button onPress={() => setPair([])}>{words.closeThePair}</Button>}
        <Button isDisabled={printing} onPress={() => setPrinting(true)}>{printing ? words.preparing : words.printOrSaveAsPdf}</Button>
      </Bar>
      <Whole>
      <Tools className="tools">
        <Segmented label={words.whatTheSheetShows} value={by} onChange={(v) => { setBy(v); setOf(undefined); setPair([]); }} options={[["picture", words.colourwaysOfAPicture], ["colourway", words.picturesOfAColourway]]} />
        <Select aria-label={by === "picture" ? words.picture : words.colourway} value={of ?? ""} onChange={(e) => { setOf(e.target.value); setPair([]); }}>
          {by === "picture" ? job.pictures.map((p) => <option key={p.id} value={p.id}>{p.name}</option>) : [{ id: "", name: words.asSet }, ...job.colourways].map((w) => <option key={w.id} value={w.id}>{w.name}</option>)}
        </Select>
        {editing.problem && <Notice strong>{editing.problem}</Notice>}
        {job.colourways.length === 0 && by === "picture" && <Faint>{words.noColourwayYetThereIsOnly}</Faint>}
      </Tools>
      <Heading>
        <Name>{job.name}</Name>
        <span className="num">{by === "picture" ? words.colourwaysOfPicture(cards[0]?.picture.name ?? "") : words.picturesOfName(cards[0]?.w?.name ?? words.asSetLow)}{words.dateAndTerms(new Date().toLocaleDateString("en-GB"))}</span>
      </Heading>
      <Grid aria-label={words.sheet} $two={two.length === 2}>
        {(two.length === 2 ? two : cards).map((c) => (
          <One
            key={c.key}
            picture={c.picture}
            w={c.w}
            stored={stored(c.w)}
            printing={printing}
            title={c.title}
            picked={pair.includes(c.key)}
            onPick={() => setPair((l) => (l.includes(c.key) ? l.filter((k) => k !== c.key) : [...l.slice(-1), c.key]))}
            onOpen={() => navigate(`/pictures/${c.picture.id}${c.w ? `?colourway=${c.w.id}` : ""}`)}
            onWay={(label, change) => void editing.edit(label, (x) => ({ ...x, colourways: x.colourways.map((q) => (q.id === c.w?.id ? { ...q, ...change } : q)) }))}
          />
        ))}
      </Grid>
      </Whole>
    </Page>
  );
}

function list(job: Job, by: "picture" | "colourway", of: string | undefined): { key: string; picture: PictureSummary; w?: Colourway; title: string }[] {
  if (by === "picture") {
    const picture = job.pictures.find((p) => p.id === of) ?? job.pictures[0];
    if (!picture) return [];
    return [{ key: "set", picture, title: words.asSet }, ...job.colourways.map((w) => ({ key: w.id, picture, w, title: w.name }))];
  }
  const w = job.colourways.find((q) => q.id === of);
  return job.pictures.map((picture) => ({ key: picture.id, picture, w, title: picture.name }));
}
