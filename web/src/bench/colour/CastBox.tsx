import type { Cast, PartProof } from "../../api/client";
import { Heading, Segmented } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Small } from "../../look/Field";
import { Line } from "./ColourField";
import * as words from "../../words/colour";

const fresh: Cast = { amount: 100, reach: 90 };

/** The tint that the thing throws on its neighbours: turned to the new colour, or taken away. */
export function CastBox(p: { cast?: Cast; proof?: PartProof; onDrag: (c: Cast) => void; onRest: (label: string, c: Cast | undefined) => void }) {
  const { cast: c, proof } = p;
  return (
    <>
      <Heading>{words.castOnTheNeighbours}</Heading>
      <Toggle on={!!c} onChange={(on) => p.onRest(on ? words.turnTheCast : words.leaveTheCast, on ? fresh : undefined)}>{words.changeTheTintThatTheOld}</Toggle>
      {c && (
        <>
          <Line>
            <span>{words.theTintIs}</span>
            <div><Segmented small label={words.whatBecomesOfTheCast} value={c.neutral ? "neutral" : "turned"} onChange={(v) => p.onRest(v === "neutral" ? words.castTakenAway : words.castTurned, { ...c, neutral: v === "neutral" || undefined })} options={[["turned", words.turned], ["neutral", words.takenAway]]} /></div>
            <span />
          </Line>
          <NumberRow label={words.amount} value={c.amount} min={0} max={100} initial={100} unit="%" onDrag={(v) => p.onDrag({ ...c, amount: v })} onRest={(v) => p.onRest(words.amountOfTheCast, { ...c, amount: v })} />
          <NumberRow label={words.reach} value={c.reach} min={5} max={600} initial={90} unit={words.px} onDrag={(v) => p.onDrag({ ...c, reach: v })} onRest={(v) => p.onRest(words.reachOfTheCast, { ...c, reach: v })} />
          {proof && <Small>{proof.cast ? words.strongestTintFoundCastOfThe(Math.round(100 * proof.cast)) : words.noTintOfTheOldColour}</Small>}
        </>
      )}
    </>
  );
}
