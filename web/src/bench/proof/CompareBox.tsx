import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type Part, type PartProof, type Picture, type Proof } from "../../api/client";
import { Button, Heading } from "../../look/controls";
import { Select, Small } from "../../look/Field";
import { lab } from "../figures";
import styled from "styled-components";
import * as words from "../../words/proof";

const Halves = styled.span`display: grid; grid-template-columns: 1fr 1fr; gap: 6px;`;

/** The lit tone of a part: its result, or what it is where it is left. */
const tone = (q: PartProof | undefined) => q?.got ?? q?.own;
const css = (l: number[]) => `lab(${l.map((v) => Math.round(v * 100) / 100).join(" ")})`;

/** Another part, of this picture or of another of the job, that this one is held against. */
export function CompareBox(p: { part: Part; parts: Part[]; picture: Picture; proof: PartProof; all?: Proof; onPart: (label: string, change: Partial<Part>) => void }) {
  const [other, setOther] = useState(p.picture.id);
  const [chosen, setChosen] = useState<string>();
  const here = other === p.picture.id;
  const job = useQuery({ queryKey: ["job", p.picture.job], queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: p.picture.job } } })) });
  const there = useQuery({ queryKey: ["picture", other], enabled: !here, queryFn: () => unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: other } } })) });
  const proofs = useQuery({ queryKey: ["proof", other], enabled: !here, queryFn: () => unwrap(api.POST("/api/pictures/{picture}/proof", { params: { path: { picture: other } }, body: {} })) });
  const parts = here ? p.parts.filter((q) => q.id !== p.part.id) : (there.data?.document.parts ?? []);
  const same = parts.find((q) => q.name === p.part.name);
  const at = parts.find((q) => q.id === chosen) ?? same ?? parts[0];
  const got = tone((here ? p.all : proofs.data)?.parts.find((q) => q.id === at?.id));
  const mine = tone(p.proof);
  const difference = useQuery({
    queryKey: ["difference", mine && css(mine), got && css(got)],
    enabled: !!mine && !!got,
    queryFn: () => unwrap(api.GET("/api/difference", { params: { query: { a: css(mine ?? []), b: css(got ?? []) } } })),
  });
  return (
    <>
      <Heading>{words.heldAgainstAnotherPart}</Heading>
      <Halves>
        <Select aria-label={words.pictureToCompareWith} value={other} onChange={(e) => { setOther(e.target.value); setChosen(undefined); }}>
          {(job.data?.pictures ?? [{ id: p.picture.id, name: p.picture.name }]).map((q) => <option key={q.id} value={q.id}>{q.id === p.picture.id ? words.thisPicture : q.name}</option>)}
        </Select>
        <Select aria-label={words.partToCompareWith} value={at?.id ?? ""} disabled={parts.length === 0} onChange={(e) => setChosen(e.target.value)}>
          {parts.length === 0 && <option value="">{here ? words.noOtherPart : words.noPart}</option>}
          {parts.map((q) => <option key={q.id} value={q.id}>{q.name}</option>)}
        </Select>
      </Halves>
      {at && got && (
        <>
          <Small>{words.nameIsGotAtItsMatch(at.name, lab(got))}{difference.data ? difference.data.delta_e00.toFixed(1) : "…"}{words.ciede2000FromThisPart}</Small>
          <span><Button onPress={() => p.onPart(words.matchName(at.name), { target: { css: css(got), tolerance: p.part.target.tolerance } })}>{words.makeThisOneMatchIt}</Button></span>
        </>
      )}
    </>
  );
}
