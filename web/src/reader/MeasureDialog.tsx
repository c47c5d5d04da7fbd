import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, explain, unwrap } from "../api/client";
import { Button, Notice } from "../look/controls";
import { Dialog } from "../look/Dialog";
import { Disc } from "../look/Disc";
import { Field, Select, Small } from "../look/Field";
import * as words from "../words/reader";

const Read = styled.div`display: grid; grid-template-columns: auto 1fr; gap: 12px; align-items: center;`;
const Buttons = styled.div`display: flex; gap: 8px; flex-wrap: wrap;`;
const Lines = styled.div`display: grid; grid-template-columns: 84px 1fr; gap: 8px; align-items: center;`;

interface Props {
  open: boolean;
  onClose: () => void;
  /** What is done with the colour, on the button. */
  use: string;
  /** Whether the colour gets a name, too. */
  named?: boolean;
  onTake: (name: string, css: string) => void;
}

/** Measures a surface with the reader on the desk: three readings, their mean, and how far they lie apart. */
export function MeasureDialog(p: Props) {
  const places = useQuery({ queryKey: ["reader"], enabled: p.open, retry: false, queryFn: () => unwrap(api.GET("/api/reader")) });
  const [place, setPlace] = useState(1);
  const [name, setName] = useState("");
  const measure = useMutation({ mutationFn: () => unwrap(api.POST("/api/reader/measure", { body: { place: places.data?.length ? place : 0 } })) });
  const reading = measure.data;
  const problem = measure.error ?? (places.data ? undefined : places.error);
  const called = name.trim() || (places.data?.[place - 1] ?? words.measured);
  return (
    <Dialog title={words.measureASurface} open={p.open} onClose={p.onClose}>
      {places.data && places.data.length > 0 && (
        <Lines>
          <span>{words.itLiesOn}</span>
          <Select aria-label={words.whatTheReaderLiesOn} value={place} onChange={(e) => { setPlace(Number(e.target.value)); measure.reset(); setName(""); }}>
            {places.data.map((q, i) => <option key={q} value={i + 1}>{q}</option>)}
          </Select>
        </Lines>
      )}
      {problem && <Notice strong>{explain(problem)}</Notice>}
      {!places.data && !problem && <Notice>{words.askingTheReader}</Notice>}
      {reading && (
        <>
          <Read role="status">
            <Disc from={reading.hex} size={46} />
            <span>
              <b className="num">{words.lab}{reading.lab.map((v) => v.toFixed(1)).join(" ")}</b>
              <br />
              <Small as="span">{words.meanOfEachReadingsD50And(reading.each.length, reading.spread.toFixed(2))}</Small>
            </span>
          </Read>
          {reading.spread > 1 && <Notice>{words.theReadingsLieFarApartClean}</Notice>}
          {p.named && (
            <Lines>
              <span>{words.name}</span>
              <Field aria-label={words.nameOfTheMeasuredColour} value={name} placeholder={called} maxLength={200} onChange={(e) => setName(e.target.value)} />
            </Lines>
          )}
        </>
      )}
      <Buttons>
        <Button $kind={reading ? undefined : "solid"} isDisabled={measure.isPending} onPress={() => measure.mutate()}>{measure.isPending ? words.measuring : reading ? words.measureAgain : words.takeThreeReadings}</Button>
        {reading && <Button $kind="solid" onPress={() => { p.onTake(called, reading.css); measure.reset(); setName(""); p.onClose(); }}>{p.use}</Button>}
        <Button onPress={p.onClose}>{words.close}</Button>
      </Buttons>
    </Dialog>
  );
}
