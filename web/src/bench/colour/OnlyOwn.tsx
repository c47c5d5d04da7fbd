import type { Settings } from "../../api/client";
import { NumberRow } from "../../look/NumberRow";
import { Small } from "../../look/Field";
import * as words from "../../words/colour";

/** How strictly only what has the part's own colours is changed. */
export function OnlyOwn({ settings: s, onDrag, onRest }: { settings: Settings; onDrag: (s: Settings) => void; onRest: (label: string, s: Settings) => void }) {
  const own = (v: number) => ({ ...s, only_own: v || undefined });
  return (
    <>
      <NumberRow label={words.onlyItsColours} value={s.only_own ?? 0} min={0} max={100} initial={50} unit="%" onDrag={(v) => onDrag(own(v))} onRest={(v) => onRest(words.onlyItsColoursLow, own(v))} />
      <Small>{s.only_own ? words.aStrapOrAGroundThat : words.allOfTheMaskIsRecoloured}</Small>
    </>
  );
}
