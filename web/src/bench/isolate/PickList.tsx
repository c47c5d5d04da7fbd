import { Button as Handle, GridList, GridListItem, useDragAndDrop } from "react-aria-components";
import styled from "styled-components";
import type { Part, Pick } from "../../api/client";
import { Heading } from "../../look/controls";
import { joinList, joins, kinds, type Kind } from "./kinds";
import { summary } from "./summary";
import { Faint, Flow } from "../../look/layout";
import { SignButton } from "../../look/SignButton";
import * as words from "../../words/isolate";

const Sign = styled(SignButton)`padding: 3px 0; font-weight: 700;`;

const List = styled(GridList)`
  display: flex;
  flex-direction: column;
  gap: 4px;
  outline: none;
  .react-aria-DropIndicator[data-drop-target] { height: 2px; background: var(--ink); }
`;
const Row = styled(GridListItem)<{ $off?: boolean; $open: boolean }>`
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
  &[data-dragging] { opacity: 0.5; }
`;
/** What the keys drag a pick by; a pointer takes the whole row. */
const Grip = styled(Handle)`
  border: 0;
  background: none;
  padding: 0;
  width: 0;
  overflow: hidden;
  color: var(--ink3);
  &[data-focus-visible] { width: auto; padding: 0 5px; }
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

/** A list with one of it at another place. */
function moved<T>(list: T[], from: number, to: number): T[] {
  const one = list.slice(from, from + 1);
  return list.toSpliced(from, 1).toSpliced(to, 0, ...one);
}

const next = (j: Pick["join"]) => joinList[(joinList.indexOf(j) + 1) % joinList.length] ?? "add";

/** How a part was made: each pick can be opened, changed, moved, switched off and deleted. */
export function PickList(p: { part?: Part; parts: Part[]; opened?: number; onOpen: (i: number, kind: Kind) => void; onPicks: (label: string, picks: Pick[]) => void }) {
  const picks = p.part?.picks ?? [];
  const put = (label: string, i: number, what: Partial<Pick>) => p.onPicks(label, picks.map((q, j) => (j === i ? { ...q, ...what } : q)));
  const place = (from: number, to: number) => {
    if (to < 0 || to >= picks.length || to === from) return;
    p.onPicks(words.moveAPick, moved(picks, from, to));
    // What is open stays open, wherever it stands now.
    const order = moved(picks.map((_, i) => i), from, to);
    const at = p.opened === undefined ? -1 : order.indexOf(p.opened);
    const k = picks[p.opened ?? -1];
    if (k && at >= 0 && at !== p.opened) p.onOpen(at, k.kind);
  };
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((k) => ({ "text/plain": kinds[picks[Number(k)]?.kind ?? "sweep"].name })),
    onReorder: ({ keys, target }) => {
      const from = Number([...keys][0]);
      const gap = Number(target.key) + (target.dropPosition === "after" ? 1 : 0);
      place(from, gap > from ? gap - 1 : gap);
    },
  });
  return (
    <>
      <Heading>{words.howThisPartWasMade}</Heading>
      {picks.length === 0 && <Faint as="p">{words.nothingYetPicksApplyInOrder}</Faint>}
      {picks.length > 0 && <div
        role="presentation"
        onKeyDownCapture={(e) => {
          const i = Number((e.target as HTMLElement).closest<HTMLElement>("[data-key]")?.dataset.key);
          if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown") || !Number.isInteger(i)) return;
          e.preventDefault();
          e.stopPropagation();
          place(i, e.key === "ArrowUp" ? i - 1 : i + 1);
        }}
      ><List aria-label={words.picks} keyboardNavigationBehavior="tab" dragAndDropHooks={dragAndDropHooks}>
        {picks.map((k, i) => {
          const name = kinds[k.kind].name;
          const open = p.opened === i;
          return (
            <Row key={i} id={i} textValue={name} $off={k.off} $open={open}>
              <Sign says={words.changeHowItJoins(joins[k.join].name, name)} onPress={() => put(words.joinsInstead(joins[next(k.join)].name.toLowerCase()), i, { join: next(k.join) })}>
                {joins[k.join].sign}
              </Sign>
              <Open onClick={() => p.onOpen(i, k.kind)} aria-expanded={open} title={`${joins[k.join].name}: ${joins[k.join].what}`}>
                <b>{name}</b> <small>{summary(k, (id) => p.parts.find((q) => q.id === id)?.name ?? words.gone)}{k.off ? words.off : ""}</small>
              </Open>
              <Flow as="span">
                {picks.length > 1 && <Grip slot="drag" aria-label={words.dragPick(name)}>≡</Grip>}
                {open && picks.length > 1 && (
                  <>
                    <SignButton $low says={words.moveNameUp(name)} isDisabled={i === 0} onPress={() => place(i, i - 1)}>↑</SignButton>
                    <SignButton $low says={words.moveNameDown(name)} isDisabled={i === picks.length - 1} onPress={() => place(i, i + 1)}>↓</SignButton>
                  </>
                )}
                <SignButton $low says={k.off ? words.switchOn(name) : words.switchOff(name)} onPress={() => put(k.off ? words.switchAPickOn : words.switchAPickOff, i, { off: !k.off })}>
                  {k.off ? "○" : "◉"}
                </SignButton>
                <SignButton $low says={words.deleteName(name)} onPress={() => p.onPicks(words.deleteAPick, picks.filter((_, j) => j !== i))}>✕</SignButton>
              </Flow>
            </Row>
          );
        })}
      </List></div>}
    </>
  );
}
