import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, explain, unwrap, type Job, type Order } from "../api/client";
import { Button, Heading, Notice } from "../look/controls";
import { NumberRow } from "../look/NumberRow";
import { Toggle } from "../look/Toggle";
import { allStored } from "../bench/unsentWork";
import { Dialog } from "../look/Dialog";
import { Field, Select, Small } from "../look/Field";
import styled from "styled-components";
import { Flow } from "../look/layout";
import * as words from "../words/job";

const Halves = styled.div`display: grid; grid-template-columns: 1fr 1fr; gap: 16px;`;
const Choices = styled.div`display: grid; gap: 5px; align-content: start; max-height: 220px; overflow: auto;`;
const Settings = styled.div`display: grid; grid-template-columns: 104px 1fr; gap: 8px; align-items: center;`;

const formats: [Order["format"], string][] = [["png", "PNG"], ["png8", words.png8Bit], ["jpeg", "JPEG"], ["webp", words.webp], ["tiff", "TIFF"], ["tiff8", words.tiff8Bit], ["avif", "AVIF"], ["ora", words.openrasterALayerForEachPart], ["masks", words.masksOneGreyPngAPart], ["svg", words.svgOfDrawings], ["pdf", words.pdfOfDrawings]];
const ending: Record<Order["format"], string> = { png: ".png", png8: ".png", jpeg: ".jpg", webp: ".webp", tiff: ".tif", tiff8: ".tif", avif: ".avif", ora: ".ora", masks: ".masks.zip", svg: ".svg", pdf: ".pdf" };
/** Formats that have no pixels to set. */
const plain = new Set<Order["format"]>(["ora", "masks", "svg", "pdf"]);
/** Formats that hold CMYK. */
const inkFormats = new Set<Order["format"]>(["jpeg", "tiff", "tiff8"]);
const lossy = new Set(["jpeg", "webp", "avif"]);

/** Orders files: chosen pictures in chosen colourways. */
export function OrderDialog(p: { job: Job; pictures?: string[]; open: boolean; onClose: () => void; onOrdered: () => void }) {
  const queries = useQueryClient();
  const ways = [{ id: "", name: words.asSet }, ...p.job.colourways];
  const kept = p.job.pictures.filter((q) => q.origin?.licence.practice); // their licences forbid it
  const may = p.job.pictures.filter((q) => !q.origin?.licence.practice).map((q) => q.id);
  const [pictures, setPictures] = useState<string[]>((p.pictures ?? may).filter((q) => may.includes(q)));
  const [colourways, setColourways] = useState<string[]>(p.job.colourways.filter((w) => w.mark !== "dropped").map((w) => w.id));
  const [format, setFormat] = useState<Order["format"]>("png");
  const [quality, setQuality] = useState(92);
  const [longest, setLongest] = useState("");
  const [profile, setProfile] = useState<"" | "srgb" | "p3" | "inks">("");
  const [metadata, setMetadata] = useState<"" | "no-gps" | "drop">("");
  const [pattern, setPattern] = useState("{picture} {colourway}");
  const [chroma, setChroma] = useState<"" | "420">("");
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const masks = format === "masks";
  const converted = profile === "inks" && !inkFormats.has(format) ? "" : profile;
  const chosen = colourways.length > 0 && !masks ? colourways : [""];
  const count = pictures.length * chosen.length;
  const flip = (list: string[], id: string, on: boolean) => (on ? [...list, id] : list.filter((q) => q !== id));
  const first = p.job.pictures.find((q) => q.id === pictures[0]);
  const example = pattern.replaceAll("{picture}", first?.name ?? words.picture).replaceAll("{colourway}", ways.find((w) => w.id === chosen[0])?.name.toLowerCase() === "as set" ? words.asSetLow : (ways.find((w) => w.id === chosen[0])?.name ?? "")).replaceAll("{number}", "001");
  const send = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      await allStored(); // a delivery is of what was seen
      await unwrap(api.POST("/api/jobs/{job}/deliveries", { params: { path: { job: p.job.id } }, body: { pictures, colourways: chosen, format, quality, pattern, longest: Number.parseInt(longest, 10) || 0, ...(chroma && format === "jpeg" ? { chroma } : {}), ...(converted ? { profile: converted } : {}), ...(metadata ? { metadata } : {}) } }));
      await queries.invalidateQueries({ queryKey: ["deliveries", p.job.id] });
      p.onOrdered();
    } catch (e) {
      setProblem(explain(e));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog title={words.deliver} open={p.open} onClose={p.onClose}>
      <Halves>
        <Choices>
          <Heading>{words.pictures}</Heading>
          <Toggle on={pictures.length === may.length} onChange={(on) => setPictures(on ? may : [])}>{words.allOfThem}</Toggle>
          {p.job.pictures.filter((q) => may.includes(q.id)).map((q) => <Toggle key={q.id} on={pictures.includes(q.id)} onChange={(on) => setPictures((l) => flip(l, q.id, on))}>{q.name}</Toggle>)}
        </Choices>
        <Choices>
          <Heading>{words.colourways}</Heading>
          {!masks && <Toggle on={colourways.length === ways.length} onChange={(on) => setColourways(on ? ways.map((w) => w.id) : [])}>{words.allOfThem}</Toggle>}
          {masks ? <Small>{words.masksAreTheSameInEvery}</Small> : ways.map((w) => <Toggle key={w.id} on={colourways.includes(w.id)} onChange={(on) => setColourways((l) => flip(l, w.id, on))}>{w.name}</Toggle>)}
        </Choices>
      </Halves>
      <Settings>
        <span>{words.format}</span>
        <Select aria-label={words.format} value={format} onChange={(e) => setFormat(e.target.value as Order["format"])}>{formats.map(([k, n]) => <option key={k} value={k}>{n}</option>)}</Select>
        {!plain.has(format) && (
          <>
            {format === "jpeg" && (
              <>
                <span>{words.chroma}</span>
                <Select aria-label={words.chromaSampling} value={chroma} onChange={(e) => setChroma(e.target.value as typeof chroma)}>
                  <option value="">{words.n4EveryPixel}</option>
                  <option value="420">{words.n420SmallerFiles}</option>
                </Select>
              </>
            )}
            <span>{words.longSide}</span>
            <Field aria-label={words.longSideInPixels} value={longest} onChange={(e) => setLongest(e.target.value.replace(/[^0-9]/g, ""))} placeholder={words.fullSize} inputMode="numeric" />
            <span>{words.profile}</span>
            <Select aria-label={words.profile} value={converted} onChange={(e) => setProfile(e.target.value as typeof profile)}>
              <option value="">{words.thePicturesOwn}</option>
              <option value="srgb">{words.srgb}</option>
              <option value="p3">{words.displayP3}</option>
              {inkFormats.has(format) && <option value="inks" disabled={!p.job.inks}>{p.job.inks ? words.cmykThrough(p.job.inks.name) : words.cmykTheJobHasNoInk}</option>}
            </Select>
            <span>{words.metadata}</span>
            <Select aria-label={words.metadata} value={metadata} onChange={(e) => setMetadata(e.target.value as typeof metadata)}>
              <option value="">{words.keep}</option>
              <option value="no-gps">{words.keepWithoutThePlace}</option>
              <option value="drop">{words.drop}</option>
            </Select>
          </>
        )}
        <span>{words.names}</span>
        <Field aria-label={words.patternOfTheNames} value={pattern} onChange={(e) => setPattern(e.target.value)} spellCheck={false} />
        <span />
        <Small>{example}{ending[format]} · {words.pictureColourwayAndNumberAreFilled}</Small>
      </Settings>
      {lossy.has(format) && <NumberRow label={words.quality} value={quality} min={1} max={100} initial={92} onDrag={setQuality} onRest={setQuality} />}
      {kept.length > 0 && <Notice>{words.notDeliveredForPracticeOnlyBy}{kept.map((q) => q.name).join(", ")}.</Notice>}
      {problem && <Notice strong>{problem}</Notice>}
      <Flow $gap={8}>
        <Button $kind="solid" onPress={() => void send()} isDisabled={busy || count === 0}>{words.renderFiles(count)}</Button>
        <Button onPress={p.onClose}>{words.close}</Button>
      </Flow>
    </Dialog>
  );
}
