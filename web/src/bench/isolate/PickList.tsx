import styled from "styled-components";
import type { Part, Pick } from "../../api/client";
import { Button, Heading } from "../../look/controls";
import { joinList, joins, kinds, summary, type Kind } from "./kinds";

const Row = styled.li<{ $off?: boolean; $open: boolean }>`
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr) auto;
  align-items: center;
  border: 1px solid ${(p) => (p.$open ? "var(--ink)" : "var(--rule)")};
  box-shadow: ${(p) => (p.$open ? "0 0 0 1px var(--ink)" : "none")};
  border-radius: var(--round);
  background: #fff;
  padding: 1px 2px 1px 3px;
  color: ${(p) => (p.$off ? "var(--ink3)" : "inherit")};
  small { color: var(--ink3); }
`;
const Open = styled.button`
  border: 0;
  background: none;
  padding: 5px 3px;
  text-align: left;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  b { font-weight: 600; }
`;

const next = (j: Pick["join"]) => joinList[(joinList.indexOf(j) + 1) % joinList.length] ?? "add";

/** How a part was made: each pick can be opened, changed, moved, switched off and deleted. */
export function PickList(p: { part?: Part; parts: Part[]; opened?: number; onOpen: (i: number, kind: Kind) => void; onPicks: (label: string, picks: Pick[]) => void }) {
  const picks = p.part?.picks ?? [];
  const put = (label: string, i: number, what: Partial<Pick>) => p.onPicks(label, picks.map((q, j) => (j === i ? { ...q, ...what } : q)));
  const move = (i: number, by: number) => {
    const list = [...picks];
    const [q] = list.splice(i, 1);
    if (!q || i + by < 0 || i + by >= picks.length) return;
    list.splice(i + by, 0, q);
    p.onPicks("move a pick", list);
  };
  return (
    <>
      <Heading>How this part was made</Heading>
      {picks.length === 0 && <p style={{ color: "var(--ink3)" }}>Nothing yet. Picks apply in order, from the top.</p>}
      <ol style={{ listStyle: "none", margin: 0, padding: 0, display: "grid", gap: 4 }} aria-label="Picks">
        {picks.map((k, i) => {
          const name = kinds[k.kind].name;
          const open = p.opened === i;
          return (
            <Row key={i} $off={k.off} $open={open} onKeyDown={(e) => { if (e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown")) { e.preventDefault(); move(i, e.key === "ArrowUp" ? -1 : 1); } }}>
              <Button $kind="quiet" style={{ padding: "3px 0", fontWeight: 700 }} aria-label={`${joins[k.join].name}: change how ${name} joins`} onPress={() => put(`${joins[next(k.join)].name.toLowerCase()} instead`, i, { join: next(k.join) })}>
                {joins[k.join].sign}
              </Button>
              <Open onClick={() => p.onOpen(i, k.kind)} aria-expanded={open} title={`${joins[k.join].name}: ${joins[k.join].what}`}>
                <b>{name}</b> <small>{summary(k, (id) => p.parts.find((q) => q.id === id)?.name ?? "gone")}{k.off ? ", off" : ""}</small>
              </Open>
              <span style={{ display: "flex" }}>
                {open && picks.length > 1 && (
                  <>
                    <Button $kind="quiet" style={{ padding: "4px 3px" }} aria-label={`Move ${name} up`} isDisabled={i === 0} onPress={() => move(i, -1)}>↑</Button>
                    <Button $kind="quiet" style={{ padding: "4px 3px" }} aria-label={`Move ${name} down`} isDisabled={i === picks.length - 1} onPress={() => move(i, 1)}>↓</Button>
                  </>
                )}
                <Button $kind="quiet" style={{ padding: "4px 5px" }} aria-label={`Switch ${name} ${k.off ? "on" : "off"}`} onPress={() => put(k.off ? "switch a pick on" : "switch a pick off", i, { off: !k.off })}>
                  {k.off ? "○" : "◉"}
                </Button>
                <Button $kind="quiet" style={{ padding: "4px 5px" }} aria-label={`Delete ${name}`} onPress={() => p.onPicks("delete a pick", picks.filter((_, j) => j !== i))}>✕</Button>
              </span>
            </Row>
          );
        })}
      </ol>
    </>
  );
}
