import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, explain, unwrap, type Picture, type Proof } from "../api/client";
import { Button, Notice, NumberRow, Segmented } from "../look/controls";
import { allStored } from "./unsentWork";
import { Dialog } from "../look/Dialog";
import { Field } from "../look/Field";
import { Deliveries } from "../job/Deliveries";
import { Calm, Flow } from "../look/layout";

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
    <Dialog title={`Deliver ${p.picture.name}`} open={p.open} onClose={p.onClose}>
      <Flow $gap={12}>
        <Segmented label="Format" value={format} onChange={setFormat} options={drawing ? [["svg", "SVG"], ["pdf", "PDF"], ["png", "PNG"]] : [["png", "PNG"], ["jpeg", "JPEG"]]} />
        <span className="num">
          {p.picture.width} × {p.picture.height} · {p.picture.space}
        </span>
      </Flow>
      {drawing ? (
        <Calm>
          {format === "svg" ? `Only colours differ from the file as it came in: order, ids, groups and number formats stay byte for byte.${p.picture.origin ? " Whose it is stands at its beginning." : ""}` : format === "pdf" ? "One page, drawn as lines and fills." : (
            <>Long side <Field aria-label="Long side in pixels" value={longest} onChange={(e) => setLongest(e.target.value.replace(/[^0-9]/g, ""))} placeholder={String(Math.max(p.picture.width, p.picture.height))} size={6} inputMode="numeric" /> pixels</>
          )}
        </Calm>
      ) : format === "png" ? (
        <Calm>Lossless, {p.picture.bits} bit. Outside the parts bit for bit the picture as it came in; profile and metadata kept.</Calm>
      ) : (
        <NumberRow label="Quality" value={quality} min={1} max={100} initial={92} onDrag={setQuality} onRest={setQuality} />
      )}
      {names.length > 0 && <Notice>Outside tolerance: {names.join(", ")}. It can be delivered all the same.</Notice>}
      {p.picture.origin && <Notice>{p.picture.origin.licence.practice ? `It is from the ${p.picture.origin.source}, for practice only: nothing made of it is delivered.` : `By ${p.picture.origin.author}, ${p.picture.origin.licence.name}. The file says so: ${p.picture.origin.licence.credit}`}</Notice>}
      {problem && <Notice strong>{problem}</Notice>}
      <Flow $gap={8}>
        <Button $kind="solid" onPress={() => void send()} isDisabled={busy || !!p.picture.origin?.licence.practice}>Render at full size</Button>
        <Button onPress={p.onClose}>Close</Button>
      </Flow>
      <Deliveries job={p.picture.job} />
    </Dialog>
  );
}
