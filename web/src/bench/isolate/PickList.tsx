import styled from "styled-components";
import type { Part, Pick } from "../../api/client";
import { Button, Heading } from "../../look/controls";
import { joinList, joins, kinds, summary, type Kind } from "./kinds";
import { Faint, Flow, Plain } from "../../look/layout";

const Sign = styled(Button)`padding: 3px 0; font-weight: 700;`;

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
      {picks.length === 0 && <Faint as="p">Nothing yet. Picks apply in order, from the top.</Faint>}
      <Plain as="ol" $gap={4} aria-label="Picks">
        {picks.map((k, i) => {
          const name = kinds[k.kind].name;
          const open = p.opened === i;
          return (
            <Row key={i} $off={k.off} $open={open} onKeyDown={(e) => { if (e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown")) { e.preventDefault(); move(i, e.key === "ArrowUp" ? -1 : 1); } }}>
              <Sign $kind="quiet" aria-label={`${joins[k.join].name}: change how ${name} joins`} onPress={() => put(`${joins[next(k.join)].name.toLowerCase()} instead`, i, { join: next(k.join) })}>
                {joins[k.join].sign}
              </Sign>
              <Open onClick={() => p.onOpen(i, k.kind)} aria-expanded={open} title={`${joins[k.join].name}: ${joins[k.join].what}`}>
                <b>{name}</b> <small>{summary(k, (id) => p.parts.find((q) => q.id === id)?.name ?? "gone")}{k.off ? ", off" : ""}</small>
              </Open>
              <Flow as="span">
                {open && picks.length > 1 && (
                  <>
                    <Button $kind="quiet" $low aria-label={`Move ${name} up`} isDisabled={i === 0} onPress={() => move(i, -1)}>↑</Button>
                    <Button $kind="quiet" $low aria-label={`Move ${name} down`} isDisabled={i === picks.length - 1} onPress={() => move(i, 1)}>↓</Button>
                  </>
                )}
                <Button $kind="quiet" $low aria-label={`Switch ${name} ${k.off ? "on" : "off"}`} onPress={() => put(k.off ? "switch a pick on" : "switch a pick off", i, { off: !k.off })}>
                  {k.off ? "○" : "◉"}
                </Button>
                <Button $kind="quiet" $low aria-label={`Delete ${name}`} onPress={() => p.onPicks("delete a pick", picks.filter((_, j) => j !== i))}>✕</Button>
              </Flow>
            </Row>
          );
        })}
      </Plain>
    </>
  );
}
