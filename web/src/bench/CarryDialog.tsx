import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, explain, unwrap, type Part, type Picture } from "../api/client";
import { Button, Heading, Notice } from "../look/controls";
import { Toggle } from "../look/Toggle";
import { Dialog } from "../look/Dialog";
import { Select, Small } from "../look/Field";
import { Flow } from "../look/layout";
import * as words from "../words/benchDialogs";

/**
 * What another picture of the job has for this one: its parts, begun with the picks that do not depend on the place, or one of its things,
 * cut out and set in.
 */
export function CarryDialog(p: { picture: Picture; open: boolean; onClose: () => void; onCarry: (from: string, parts: Part[]) => void; onSet: (from: string, part: Part) => void }) {
  const job = useQuery({ queryKey: ["job", p.picture.job], enabled: p.open, staleTime: 0, queryFn: () => unwrap(api.GET("/api/jobs/{job}", { params: { path: { job: p.picture.job } } })) });
  const others = job.data?.pictures.filter((q) => q.id !== p.picture.id && q.parts > 0 && q.format !== "svg") ?? [];
  const [chosen, setChosen] = useState<string>();
  const from = others.find((q) => q.id === chosen) ?? others[0];
  const list = useQuery({ queryKey: ["carried", from?.id, from?.revision], enabled: p.open && !!from, queryFn: () => unwrap(api.GET("/api/pictures/{picture}/carried", { params: { path: { picture: from?.id ?? "" } } })) });
  const [left, setLeft] = useState<string[]>([]);
  const parts = list.data ?? [];
  const whole = useQuery({ queryKey: ["picture", from?.id, from?.revision], enabled: p.open && !!from, queryFn: () => unwrap(api.GET("/api/pictures/{picture}", { params: { path: { picture: from?.id ?? "" } } })) });
  const things = whole.data?.document.parts.filter((q) => q.picks.length > 0 && !q.copy && !q.family) ?? [];
  const cut = useMutation({
    mutationFn: (part: string) => unwrap(api.POST("/api/pictures/{picture}/cutout", { params: { path: { picture: p.picture.id } }, body: { from: from?.id ?? "", part } })),
    onSuccess: (part) => { p.onSet(from?.name ?? words.anotherPicture, part); p.onClose(); },
  });
  const take = parts.filter((q) => !left.includes(q.part.name));
  return (
    <Dialog title={words.fromAnotherPicture} open={p.open} onClose={p.onClose}>
      <Small>{words.likeColoursHuesTonesAndSubject}</Small>
      {job.data && others.length === 0 && <Notice>{words.noOtherPictureOfThisJob}</Notice>}
      {from && (
        <Select aria-label={words.fromWhichPicture} value={from.id} onChange={(e) => { setChosen(e.target.value); setLeft([]); }}>
          {others.map((q) => <option key={q.id} value={q.id}>{q.name}</option>)}
        </Select>
      )}
      {list.error && <Notice strong>{explain(list.error)}</Notice>}
      {list.data && parts.length === 0 && <Notice>{words.nothingOfFromCanBeCopied(from?.name ?? "")}</Notice>}
      {parts.map((q) => (
        <Toggle key={q.part.id} on={!left.includes(q.part.name)} onChange={(on) => setLeft((l) => (on ? l.filter((n) => n !== q.part.name) : [...l, q.part.name]))}>
          {q.part.name}: {words.picksCounted(q.part.picks.length)}{q.left > 0 ? words.leftOutCounted(q.left) : ""}
        </Toggle>
      ))}
      <Flow $gap={8}>
        {parts.length > 0 && <Button $kind="solid" isDisabled={take.length === 0} onPress={() => { if (from) p.onCarry(from.name, take.map((q) => q.part)); p.onClose(); }}>{words.addParts(take.length)}</Button>}
      </Flow>
      {things.length > 0 && (
        <>
          <Heading>{words.orSetOneOfItsThings}</Heading>
          <Small>{words.itIsCutOutWithIts}</Small>
          <Flow $gap={6} $wrap>
            {things.map((q) => <Button key={q.id} isDisabled={cut.isPending} onPress={() => cut.mutate(q.id)}>{words.setNameIn(q.name)}</Button>)}
          </Flow>
        </>
      )}
      {cut.error && <Notice strong>{explain(cut.error)}</Notice>}
      <div><Button onPress={p.onClose}>{words.close}</Button></div>
    </Dialog>
  );
}
