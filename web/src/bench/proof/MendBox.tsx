import styled from "styled-components";
import type { Mend, Part } from "../../api/client";
import { Button, Heading, Key, NumberRow, Toggle } from "../../look/controls";
import { Small } from "../../look/Field";
import type { Tool } from "../stage/tools";
import { PatchBox } from "../patch/PatchBox";
import type { Patching } from "../patch/usePatch";
import type { Mending } from "../useMend";
import { Flow } from "../../look/layout";

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  li { display: flex; align-items: center; gap: 2px; border-bottom: 1px solid var(--rule); min-height: 28px; }
  li > span { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  li[data-off] > span { color: var(--ink3); text-decoration: line-through; }
  button { padding: 2px 6px; }
`;

const name = (m: Mend, parts: Part[]) => {
  if (m.kind === "brush") return `Mending brush, ${m.strokes?.length ?? 0} stroke${m.strokes?.length === 1 ? "" : "s"}`;
  if (m.kind === "patch") return "Patch";
  return `${m.box ? "A place" : "The edge"} of ${parts.find((q) => q.id === m.part)?.name ?? "a part"}`;
};

/** The mending brush, and what has been mended: each can be switched off and taken out at any time. */
export function MendBox(p: { mends: Mend[]; unfilled?: number[]; parts: Part[]; mend: Mending; patching: Patching; size: { width: number; height: number }; tool: Tool; onTool: (t: Tool) => void }) {
  const patches = p.tool === "patch";
  const { options: o, setOptions, sample } = p.mend;
  const on = p.tool === "mend";
  return (
    <>
      <Heading>Mend</Heading>
      <Flow as="span" $gap={6}>
        <Button aria-pressed={patches} onPress={() => { p.patching.open(undefined); p.onTool(patches ? "none" : "patch"); }} style={patches ? { background: "var(--ink)", color: "#fff" } : undefined}>Patch <Key>F</Key></Button>
        <Button aria-pressed={on} onPress={() => p.onTool(on ? "none" : "mend")} style={on ? { background: "var(--ink)", color: "#fff" } : undefined}>Mending brush <Key>J</Key></Button>
      </Flow>
      {on && (
        <>
          <NumberRow label="Size" value={o.size} min={2} max={300} initial={22} unit="px" onDrag={(size) => setOptions((b) => ({ ...b, size }))} onRest={(size) => setOptions((b) => ({ ...b, size }))} />
          <NumberRow label="Strength" value={o.strength} min={1} max={100} initial={60} unit="%" onDrag={(strength) => setOptions((b) => ({ ...b, strength }))} onRest={(strength) => setOptions((b) => ({ ...b, strength }))} />
          <Toggle on={o.into} onChange={(into) => setOptions((b) => ({ ...b, into }))}>May cross into parts</Toggle>
          {sample ? (
            <Flow as="span" $gap={6}>
              <Small>Colour from x {Math.round(sample[0])}, y {Math.round(sample[1])}.</Small>
              <Button $kind="quiet" onPress={() => p.mend.setSample(undefined)}>Take it from beside</Button>
            </Flow>
          ) : (
            <Small>The colour comes from beside the stroke. Alt-click takes another.</Small>
          )}
        </>
      )}
      {patches && !p.patching.patch && <Small>{p.patching.looking ? "Looking for what could cover it." : "Draw around what must go. What could cover it is looked for, and can be chosen otherwise."}</Small>}
      {p.mends.length > 0 && (
        <List aria-label="What has been mended">
          {p.mends.map((m, i) => (
            <li key={i} data-off={m.off || undefined}>
              <span>{name(m, p.parts)}{p.unfilled?.includes(i) && ", covers nothing"}</span>
              {m.patch && <Button $kind="quiet" aria-expanded={p.patching.at === i} aria-label={`Open patch ${i + 1}`} onPress={() => { p.patching.open(p.patching.at === i ? undefined : i); p.onTool("patch"); }}>Open</Button>}
              <Button $kind="quiet" aria-label={`${m.off ? "Off" : "On"}: mend ${i + 1}`} aria-pressed={!m.off} onPress={() => p.mend.put(m.off ? "mend on" : "mend off", (list) => list.map((q, j) => (j === i ? { ...q, off: q.off ? undefined : true } : q)))}>{m.off ? "Off" : "On"}</Button>
              <Button $kind="quiet" aria-label={`Delete mend ${i + 1}`} onPress={() => { p.patching.open(undefined); p.mend.put("delete a mend", (list) => list.filter((_, j) => j !== i)); }}>Delete</Button>
            </li>
          ))}
        </List>
      )}
      {patches && p.patching.patch && <PatchBox patching={p.patching} patch={p.patching.patch} unfilled={p.unfilled?.includes(p.patching.at ?? -1)} size={p.size} />}
    </>
  );
}
