import { memo, useState } from "react";
import styled from "styled-components";
import type { Part, PartProof, ShownDrawing } from "../api/client";
import { Disc } from "../look/Disc";
import { Lock } from "./Lock";
import { NameField } from "../look/TypedField";
import * as words from "../words/drawing";

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  flex: none;
  max-height: 218px;
`;
const Row = styled.li<{ $on: boolean; $over: boolean }>`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  padding: 3px 8px 3px 14px;
  ${(p) => p.$on && "background: #fff; box-shadow: inset 3px 0 0 var(--ink), inset 0 1px 0 var(--rule), inset 0 -1px 0 var(--rule);"}
  ${(p) => p.$over && "outline: 2px solid var(--ink); outline-offset: -2px;"}
`;
const Choose = styled.button`
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  width: 100%;
  b, small { display: block; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  b { font-weight: 600; }
  small { color: var(--ink3); }
`;

interface Handlers {
  onChoose: (id: string) => void;
  onRename: (id: string, name: string) => void;
  onHold: (id: string, held: boolean) => void;
  onDrop: (id: string, colour: string) => void;
}

const FamilyRow = memo(function FamilyRow(p: Handlers & { part: Part; on: boolean; own?: string; want?: string; state?: PartProof["state"]; count?: number }) {
  const [naming, setNaming] = useState(false);
  const [over, setOver] = useState(false);
  const { part, count } = p;
  const held = !!part.family?.held;
  return (
    <Row
      $on={p.on}
      $over={over}
      onDragOver={(e) => { e.preventDefault(); setOver(true); }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => { e.preventDefault(); setOver(false); p.onDrop(part.id, e.dataTransfer.getData("text/plain")); }}
    >
      <Disc from={p.own ?? "#b5b5b5"} to={held ? undefined : p.want} ring={held ? "as it is" : (p.state ?? "as it is")} size={26} />
      {naming ? (
        <NameField aria-label={words.nameOfTheFamily} value={part.name} onValue={(name) => p.onRename(part.id, name)} onLeave={() => setNaming(false)} />
      ) : (
        <Choose aria-current={p.on} title={part.name} onClick={() => p.onChoose(part.id)} onDoubleClick={() => setNaming(true)} onKeyDown={(e) => { if (e.key === "F2") setNaming(true); }}>
          <b>{part.name}</b>
          <small className="num">
            {words.coloursCounted(part.family?.members.length ?? 0)}
            {count !== undefined && ` · ${words.thingsCounted(count)}`}
            {part.family?.boards?.length ? words.someBoards : ""}
            {part.family?.prop ? ` · ${part.family.prop}s` : ""}
          </small>
        </Choose>
      )}
      <Lock held={held} label={held ? words.unlockPart(part.name) : words.lockPartNotOneByteOf(part.name)} onPress={() => p.onHold(part.id, !held)} />
    </Row>
  );
});

/** The families of a drawing: its parts. Members are dropped onto them. */
export const FamilyList = memo(function FamilyList({ parts, at, shown, things, ...handlers }: Handlers & {
  parts: Part[];
  at?: string;
  shown?: ShownDrawing;
  /** Of pixels there are no things to count. */
  things: boolean;
}) {
  return (
    <List aria-label={words.families}>
      {parts.map((part) => {
        const proof = shown?.proofs.find((q) => q.id === part.id);
        return <FamilyRow key={part.id} part={part} on={part.id === at} own={proof?.own_hex} want={proof?.want_hex} state={proof?.state} count={things ? shown?.parts.find((q) => q.id === part.id)?.count : undefined} {...handlers} />;
      })}
    </List>
  );
});
