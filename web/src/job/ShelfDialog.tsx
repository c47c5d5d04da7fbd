import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import styled from "styled-components";
import { api, explain, unwrap, type Shelved } from "../api/client";
import { Button, Notice } from "../look/controls";
import { Dialog } from "../look/Dialog";
import { Field, Small } from "../look/Field";
import * as words from "../words/job";

const Items = styled.ul`
  list-style: none;
  margin: 0;
  padding: 2px;
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px;
  max-height: 320px;
  overflow: auto;
`;
const Choice = styled.button<{ $on: boolean }>`
  width: 100%;
  display: grid;
  gap: 3px;
  padding: 4px;
  text-align: left;
  background: ${(p) => (p.$on ? "#fff" : "none")};
  border: 1px solid ${(p) => (p.$on ? "var(--ink)" : "transparent")};
  border-radius: var(--round);
  img { width: 100%; aspect-ratio: 3 / 2; object-fit: cover; border-radius: 4px; display: block; background: var(--rail); }
  span { font-size: 12px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
`;
const Said = styled.div`
  border-top: 1px solid var(--rule);
  padding-top: 10px;
  display: grid;
  gap: 4px;
  min-height: 92px;
  align-content: start;
  a { text-decoration: underline; justify-self: start; }
`;
const Buttons = styled.div`display: flex; gap: 8px; align-items: center;`;

/** What a licence allows, in two lines, and where all of it can be read. */
export function LicenceLines({ of }: { of: Shelved["origin"] }) {
  return (
    <>
      <span><b>{of.licence.name}.</b> {of.licence.says.join(" ")}</span>
      {of.licence.web && <a href={of.licence.web} target="_blank" rel="noreferrer noopener">{words.theWholeLicence}</a>}
    </>
  );
}

/** The picture shelf: searched, looked at, and a picture taken from it with its licence. */
export function ShelfDialog(p: { job: string; open: boolean; onClose: () => void; onTaken: () => void }) {
  const [typed, setTyped] = useState("");
  const question = useDeferredValue(typed.trim());
  const [at, setAt] = useState<string>();
  const shelf = useQuery({ queryKey: ["shelf", question], enabled: p.open, retry: false, placeholderData: keepPreviousData, queryFn: ({ signal }) => unwrap(api.GET("/api/shelf", { params: { query: question ? { q: question } : {} }, signal })) });
  const take = useMutation({
    mutationFn: (item: string) => unwrap(api.POST("/api/jobs/{job}/shelf", { params: { path: { job: p.job } }, body: { item } })),
    onSuccess: () => { p.onTaken(); p.onClose(); },
  });
  const items = shelf.data?.items ?? [];
  const chosen = items.find((i) => i.origin.item === at);
  const problem = take.error ?? shelf.error;
  return (
    <Dialog title={shelf.data?.shelf ?? words.pictureShelf} open={p.open} onClose={p.onClose}>
      <Field aria-label={words.searchTheShelf} placeholder={words.searchAThingAColourAn} value={typed} maxLength={200} onChange={(e) => { setTyped(e.target.value); take.reset(); }} />
      {problem && <Notice strong>{explain(problem)}</Notice>}
      {!shelf.data && !shelf.error && <Notice>{words.lookingAtTheShelf}</Notice>}
      {shelf.data && items.length === 0 && <Small>{words.nothingOnTheShelfHasAll}</Small>}
      <Items aria-label={words.picturesOnTheShelf}>
        {items.map((i) => (
          <li key={i.origin.item}>
            <Choice $on={i.origin.item === at} aria-pressed={i.origin.item === at} onClick={() => { setAt(i.origin.item); take.reset(); }}>
              <img src={`/api/shelf/${i.origin.item}/preview`} alt="" loading="lazy" />
              <span title={i.origin.title}>{i.origin.title}</span>
            </Choice>
          </li>
        ))}
      </Items>
      <Said aria-live="polite">
        {chosen ? (
          <>
            <b>{chosen.origin.title}</b>
            <span className="num">{chosen.origin.author} · {chosen.kind} · {chosen.width} × {chosen.height}</span>
            <LicenceLines of={chosen.origin} />
          </>
        ) : items.length > 0 && <Small>{words.chooseAPictureToSeeWhose}</Small>}
      </Said>
      <Buttons>
        <Button $kind="solid" isDisabled={!chosen || take.isPending} onPress={() => { if (chosen) take.mutate(chosen.origin.item); }}>{take.isPending ? words.takingIt : words.takeItIntoTheJob}</Button>
        <Button onPress={p.onClose}>{words.close}</Button>
      </Buttons>
    </Dialog>
  );
}
