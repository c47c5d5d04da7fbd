import type { Settings } from "../../api/client";
import { NumberRow } from "../../look/controls";
import { Small } from "../../look/Field";

/** How strictly only what has the part's own colours is changed. */
export function OnlyOwn({ settings: s, onDrag, onRest }: { settings: Settings; onDrag: (s: Settings) => void; onRest: (label: string, s: Settings) => void }) {
  const own = (v: number) => ({ ...s, only_own: v || undefined });
  return (
    <>
      <NumberRow label="Only its colours" value={s.only_own ?? 0} min={0} max={100} initial={50} unit="%" onDrag={(v) => onDrag(own(v))} onRest={(v) => onRest("only its colours", own(v))} />
      <Small>{s.only_own ? "A strap or a ground that the mask holds too stays as it is. The view Changed shows what is left." : "All of the mask is recoloured, whatever colour it has."}</Small>
    </>
  );
}
