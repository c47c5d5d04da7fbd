import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, explain, unwrap, type Job, type Order } from "../api/client";
import { Button, Heading, Notice, NumberRow, Toggle } from "../look/controls";
import { allStored } from "../bench/unsentWork";
import { Dialog } from "../look/Dialog";
import { Field, Select, Small } from "../look/Field";
import styled from "styled-components";
import { Flow } from "../look/layout";

const Halves = styled.div`display: grid; grid-template-columns: 1fr 1fr; gap: 16px;`;
const Choices = styled.div`display: grid; gap: 5px; align-content: start; max-height: 220px; overflow: auto;`;
const Settings = styled.div`display: grid; grid-template-columns: 104px 1fr; gap: 8px; align-items: center;`;

const formats: [Order["format"], string][] = [["png", "PNG"], ["png8", "PNG, 8 bit"], ["jpeg", "JPEG"], ["webp", "WebP"], ["tiff", "TIFF"], ["tiff8", "TIFF, 8 bit"], ["avif", "AVIF"], ["ora", "OpenRaster, a layer for each part"], ["masks", "Masks, one grey PNG a part"], ["svg", "SVG, of drawings"], ["pdf", "PDF, of drawings"]];
const ending: Record<Order["format"], string> = { png: ".png", png8: ".png", jpeg: ".jpg", webp: ".webp", tiff: ".tif", tiff8: ".tif", avif: ".avif", ora: ".ora", masks: ".masks.zip", svg: ".svg", pdf: ".pdf" };
/** Formats that have no pixels to set. */
const plain = new Set<Order["format"]>(["ora", "masks", "svg", "pdf"]);
/** Formats that hold CMYK. */
const inkFormats = new Set<Order["format"]>(["jpeg", "tiff", "tiff8"]);
const lossy = new Set(["jpeg", "webp", "avif"]);

/** Orders files: chosen pictures in chosen colourways. */
export function OrderDialog(p: { job: Job; pictures?: string[]; open: boolean; onClose: () => void; onOrdered: () => void }) {
  const queries = useQueryClient();
  const ways = [{ id: "", name: "As set" }, ...p.job.colourways];
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
  const example = pattern.replaceAll("{picture}", first?.name ?? "Picture").replaceAll("{colourway}", ways.find((w) => w.id === chosen[0])?.name.toLowerCase() === "as set" ? "as set" : (ways.find((w) => w.id === chosen[0])?.name ?? "")).replaceAll("{number}", "001");
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
    <Dialog title="Deliver" open={p.open} onClose={p.onClose}>
      <Halves>
        <Choices>
          <Heading>Pictures</Heading>
          <Toggle on={pictures.length === may.length} onChange={(on) => setPictures(on ? may : [])}>All of them</Toggle>
          {p.job.pictures.filter((q) => may.includes(q.id)).map((q) => <Toggle key={q.id} on={pictures.includes(q.id)} onChange={(on) => setPictures((l) => flip(l, q.id, on))}>{q.name}</Toggle>)}
        </Choices>
        <Choices>
          <Heading>Colourways</Heading>
          {!masks && <Toggle on={colourways.length === ways.length} onChange={(on) => setColourways(on ? ways.map((w) => w.id) : [])}>All of them</Toggle>}
          {masks ? <Small>Masks are the same in every colourway.</Small> : ways.map((w) => <Toggle key={w.id} on={colourways.includes(w.id)} onChange={(on) => setColourways((l) => flip(l, w.id, on))}>{w.name}</Toggle>)}
        </Choices>
      </Halves>
      <Settings>
        <span>Format</span>
        <Select aria-label="Format" value={format} onChange={(e) => setFormat(e.target.value as Order["format"])}>{formats.map(([k, n]) => <option key={k} value={k}>{n}</option>)}</Select>
        {!plain.has(format) && (
          <>
            {format === "jpeg" && (
              <>
                <span>Chroma</span>
                <Select aria-label="Chroma sampling" value={chroma} onChange={(e) => setChroma(e.target.value as typeof chroma)}>
                  <option value="">4:4:4, every pixel</option>
                  <option value="420">4:2:0, smaller files</option>
                </Select>
              </>
            )}
            <span>Long side</span>
            <Field aria-label="Long side in pixels" value={longest} onChange={(e) => setLongest(e.target.value.replace(/[^0-9]/g, ""))} placeholder="full size" inputMode="numeric" />
            <span>Profile</span>
            <Select aria-label="Profile" value={converted} onChange={(e) => setProfile(e.target.value as typeof profile)}>
              <option value="">the picture’s own</option>
              <option value="srgb">sRGB</option>
              <option value="p3">Display P3</option>
              {inkFormats.has(format) && <option value="inks" disabled={!p.job.inks}>{p.job.inks ? `CMYK, ${p.job.inks.name}` : "CMYK: the job has no ink profile"}</option>}
            </Select>
            <span>Metadata</span>
            <Select aria-label="Metadata" value={metadata} onChange={(e) => setMetadata(e.target.value as typeof metadata)}>
              <option value="">keep</option>
              <option value="no-gps">keep, without the place</option>
              <option value="drop">drop</option>
            </Select>
          </>
        )}
        <span>Names</span>
        <Field aria-label="Pattern of the names" value={pattern} onChange={(e) => setPattern(e.target.value)} spellCheck={false} />
        <span />
        <Small>{example}{ending[format]} · {"{picture}, {colourway} and {number} are filled in"}</Small>
      </Settings>
      {lossy.has(format) && <NumberRow label="Quality" value={quality} min={1} max={100} initial={92} onDrag={setQuality} onRest={setQuality} />}
      {kept.length > 0 && <Notice>Not delivered, for practice only by their licence: {kept.map((q) => q.name).join(", ")}.</Notice>}
      {problem && <Notice strong>{problem}</Notice>}
      <Flow $gap={8}>
        <Button $kind="solid" onPress={() => void send()} isDisabled={busy || count === 0}>{count === 1 ? "Render 1 file" : `Render ${count} files`}</Button>
        <Button onPress={p.onClose}>Close</Button>
      </Flow>
    </Dialog>
  );
}
