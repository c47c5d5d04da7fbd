import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, explain, unwrap, type Picture, type Proof } from "../api/client";
import { Button, Notice, Segmented } from "../look/controls";
import { NumberRow } from "../look/NumberRow";
import { allStored } from "./unsentWork";
import { Dialog } from "../look/Dialog";
import { Field } from "../look/Field";
import { Deliveries } from "../job/Deliveries";
import { Calm, Flow } from "../look/layout";
import * as words from "../words/benchDialogs";

/** Delivers the picture as it stands, at full size. */
export function DeliverDialog(p: { picture: Picture; colourway?: string; open: boolean; onClose: () => void; proof?: Proof }) {
  const queries = useQueryClient();
  const drawing = p.picture.format === "svg";
  const [format, setFormat] = useState<"png" | "jpeg" | "svg" | "pdf">(drawing ? "svg" : "png");
  const [longest, setLongest] = useState("");
  const [quality, setQuality] = useState(92);
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const off = p.proof?.parts.filter((q) => q.state === "outside" || q.state === "unreachable") ?? [];
  const names = off.map((q) => p.picture.document.parts.find((x) => x.id === q.id)?.name).filter(Boolean);
  const send = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      await allStored(); // a delivery is of what was seen
      await unwrap(api.POST("/api/jobs/{job}/deliveries", { params: { path: { job: p.picture.job } }, body: { pictures: [p.picture.id], colourways: [p.colourway ?? ""], format, quality, ...(Number.parseInt(longest, 10) > 0 ? { longest: Number.parseInt(longest, 10) } : {}) } }));
      await queries.invalidateQueries({ queryKey: ["deliveries", p.picture.job] });
    } catch (e) {
      setProblem(explain(e));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog title={words.deliverPicture(p.picture.name)} open={p.open} onClose={p.onClose}>
      <Flow $gap={12}>
        <Segmented label={words.format} value={format} onChange={setFormat} options={drawing ? [["svg", "SVG"], ["pdf", "PDF"], ["png", "PNG"]] : [["png", "PNG"], ["jpeg", "JPEG"]]} />
        <span className="num">
          {p.picture.width} × {p.picture.height} · {p.picture.space}
        </span>
      </Flow>
      {drawing ? (
        <Calm>
          {format === "svg" ? words.onlyColoursDiffer(p.picture.origin ? words.whoseItIsStandsAtIts : "") : format === "pdf" ? words.onePageDrawnAsLinesAnd : (
            <>{words.longSide}<Field aria-label={words.longSideInPixels} value={longest} onChange={(e) => setLongest(e.target.value.replace(/[^0-9]/g, ""))} placeholder={String(Math.max(p.picture.width, p.picture.height))} size={6} inputMode="numeric" />{words.pixels}</>
          )}
        </Calm>
      ) : format === "png" ? (
        <Calm>{words.losslessBitsBitOutsideTheParts(p.picture.bits)}</Calm>
      ) : (
        <NumberRow label={words.quality} value={quality} min={1} max={100} initial={92} onDrag={setQuality} onRest={setQuality} />
      )}
      {names.length > 0 && <Notice>{words.outsideToleranceNamesItCanBe(names.join(", "))}</Notice>}
      {p.picture.origin && <Notice>{p.picture.origin.licence.practice ? words.itIsFromTheSourceFor(p.picture.origin.source) : words.byAuthorLicenceTheFileSays(p.picture.origin.author, p.picture.origin.licence.name, p.picture.origin.licence.credit)}</Notice>}
      {problem && <Notice strong>{problem}</Notice>}
      <Flow $gap={8}>
        <Button $kind="solid" onPress={() => void send()} isDisabled={busy || !!p.picture.origin?.licence.practice}>{words.renderAtFullSize}</Button>
        <Button onPress={p.onClose}>{words.close}</Button>
      </Flow>
      <Deliveries job={p.picture.job} />
    </Dialog>
  );
}
