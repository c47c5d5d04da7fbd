import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, explain, unwrap, type Picture, type Proof } from "../api/client";
import { Button, Notice, NumberRow, Segmented } from "../look/controls";
import { Dialog } from "../look/Dialog";
import { Deliveries } from "../job/Deliveries";

/** Delivers the picture as it stands, at full size. */
export function DeliverDialog(p: { picture: Picture; colourway?: string; open: boolean; onClose: () => void; proof?: Proof }) {
  const queries = useQueryClient();
  const [format, setFormat] = useState<"png" | "jpeg">("png");
  const [quality, setQuality] = useState(92);
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const off = p.proof?.parts.filter((q) => q.state === "outside" || q.state === "unreachable") ?? [];
  const names = off.map((q) => p.picture.document.parts.find((x) => x.id === q.id)?.name).filter(Boolean);
  const send = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      await unwrap(api.POST("/api/jobs/{job}/deliveries", { params: { path: { job: p.picture.job } }, body: { pictures: [p.picture.id], colourways: [p.colourway ?? ""], format, quality } }));
      await queries.invalidateQueries({ queryKey: ["deliveries", p.picture.job] });
    } catch (e) {
      setProblem(explain(e));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog title={`Deliver ${p.picture.name}`} open={p.open} onClose={p.onClose}>
      <div style={{ display: "flex", gap: 12, alignItems: "center" }}>
        <Segmented label="Format" value={format} onChange={setFormat} options={[["png", "PNG"], ["jpeg", "JPEG"]]} />
        <span className="num">
          {p.picture.width} × {p.picture.height} · {p.picture.space}
        </span>
      </div>
      {format === "png" ? (
        <p style={{ color: "var(--ink2)" }}>Lossless, {p.picture.bits} bit. Outside the parts bit for bit the picture as it came in; profile and metadata kept.</p>
      ) : (
        <NumberRow label="Quality" value={quality} min={1} max={100} initial={92} onDrag={setQuality} onRest={setQuality} />
      )}
      {names.length > 0 && <Notice>Outside tolerance: {names.join(", ")}. It can be delivered all the same.</Notice>}
      {problem && <Notice strong>{problem}</Notice>}
      <div style={{ display: "flex", gap: 8 }}>
        <Button $kind="solid" onPress={() => void send()} isDisabled={busy}>Render at full size</Button>
        <Button onPress={p.onClose}>Close</Button>
      </div>
      <Deliveries job={p.picture.job} />
    </Dialog>
  );
}
