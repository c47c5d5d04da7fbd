import type { Cast, PartProof } from "../../api/client";
import { Heading, NumberRow, Segmented, Toggle } from "../../look/controls";
import { Small } from "../../look/Field";
import { Line } from "./ColourField";

const fresh: Cast = { amount: 100, reach: 90 };

/** The tint that the thing throws on its neighbours: turned to the new colour, or taken away. */
export function CastBox(p: { cast?: Cast; proof?: PartProof; onDrag: (c: Cast) => void; onRest: (label: string, c: Cast | undefined) => void }) {
  const { cast: c, proof } = p;
  return (
    <>
      <Heading>Cast on the neighbours</Heading>
      <Toggle on={!!c} onChange={(on) => p.onRest(on ? "turn the cast" : "leave the cast", on ? fresh : undefined)}>Change the tint that the old colour throws</Toggle>
      {c && (
        <>
          <Line>
            <span>The tint is</span>
            <div><Segmented small label="What becomes of the cast" value={c.neutral ? "neutral" : "turned"} onChange={(v) => p.onRest(v === "neutral" ? "cast taken away" : "cast turned", { ...c, neutral: v === "neutral" || undefined })} options={[["turned", "Turned"], ["neutral", "Taken away"]]} /></div>
            <span />
          </Line>
          <NumberRow label="Amount" value={c.amount} min={0} max={100} initial={100} unit="%" onDrag={(v) => p.onDrag({ ...c, amount: v })} onRest={(v) => p.onRest("amount of the cast", { ...c, amount: v })} />
          <NumberRow label="Reach" value={c.reach} min={5} max={600} initial={90} unit="px" onDrag={(v) => p.onDrag({ ...c, reach: v })} onRest={(v) => p.onRest("reach of the cast", { ...c, reach: v })} />
          {proof && <Small>{proof.cast ? `Strongest tint found: ${Math.round(100 * proof.cast)} % of the light there.` : "No tint of the old colour was found around the part."}</Small>}
        </>
      )}
    </>
  );
}
