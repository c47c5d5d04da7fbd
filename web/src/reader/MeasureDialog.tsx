import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, explain, unwrap } from "../api/client";
import { Button, Notice } from "../look/controls";
import { Dialog } from "../look/Dialog";
import { Disc } from "../look/Disc";
import { Field, Select, Small } from "../look/Field";

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
  const called = name.trim() || (places.data?.[place - 1] ?? "Measured");
  return (
    <Dialog title="Measure a surface" open={p.open} onClose={p.onClose}>
      {places.data && places.data.length > 0 && (
        <Lines>
          <span>It lies on</span>
          <Select aria-label="What the reader lies on" value={place} onChange={(e) => { setPlace(Number(e.target.value)); measure.reset(); setName(""); }}>
            {places.data.map((q, i) => <option key={q} value={i + 1}>{q}</option>)}
          </Select>
        </Lines>
      )}
      {problem && <Notice strong>{explain(problem)}</Notice>}
      {!places.data && !problem && <Notice>Asking the reader</Notice>}
      {reading && (
        <>
          <Read role="status">
            <Disc from={reading.hex} size={46} />
            <span>
              <b className="num">Lab {reading.lab.map((v) => v.toFixed(1)).join(" ")}</b>
              <br />
              <Small as="span">Mean of {reading.each.length} readings, D50 and 2 degrees; they lie within ΔE {reading.spread.toFixed(2)} of it.</Small>
            </span>
          </Read>
          {reading.spread > 1 && <Notice>The readings lie far apart. Clean the surface, press evenly, and measure again.</Notice>}
          {p.named && (
            <Lines>
              <span>Name</span>
              <Field aria-label="Name of the measured colour" value={name} placeholder={called} maxLength={200} onChange={(e) => setName(e.target.value)} />
            </Lines>
          )}
        </>
      )}
      <Buttons>
        <Button $kind={reading ? undefined : "solid"} isDisabled={measure.isPending} onPress={() => measure.mutate()}>{measure.isPending ? "Measuring" : reading ? "Measure again" : "Take three readings"}</Button>
        {reading && <Button $kind="solid" onPress={() => { p.onTake(called, reading.css); measure.reset(); setName(""); p.onClose(); }}>{p.use}</Button>}
        <Button onPress={p.onClose}>Close</Button>
      </Buttons>
    </Dialog>
  );
}
