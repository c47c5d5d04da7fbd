import { memo } from "react";
import styled from "styled-components";
import type { Part, PartProof, ShownDrawing } from "../api/client";
import { Disc } from "../look/Disc";
import { Lock } from "./Lock";
import { PartRow, PartRows } from "../look/PartRow";
import * as words from "../words/drawing";

const Families = styled(PartRows)`max-height: 218px;`;

interface Handlers {
  onChoose: (id: string) => void;
  onRename: (id: string, name: string) => void;
  onHold: (id: string, held: boolean) => void;
  onDrop: (id: string, colour: string) => void;
}

const FamilyRow = memo(function FamilyRow(p: Handlers & { part: Part; on: boolean; own?: string; want?: string; state?: PartProof["state"]; count?: number }) {
  const { part, count } = p;
  const held = !!part.family?.held;
  return (
    <PartRow
      name={part.name}
      naming={words.nameOfTheFamily}
      on={p.on}
      close
      disc={<Disc from={p.own ?? "#b5b5b5"} to={held ? undefined : p.want} ring={held ? "as it is" : (p.state ?? (part.target.css ? "unmeasured" : "as it is"))} size={26} />}
      onChoose={() => p.onChoose(part.id)}
      onRename={(name) => p.onRename(part.id, name)}
      onDrop={(colour) => p.onDrop(part.id, colour)}
      end={() => <Lock held={held} label={held ? words.unlockPart(part.name) : words.lockPartNotOneByteOf(part.name)} onPress={() => p.onHold(part.id, !held)} />}
    >
      {words.coloursCounted(part.family?.members.length ?? 0)}
      {count !== undefined && ` · ${words.thingsCounted(count)}`}
      {part.family?.boards?.length ? words.someBoards : ""}
      {part.family?.prop ? ` · ${part.family.prop}s` : ""}
    </PartRow>
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
    <Families aria-label={words.families}>
      {parts.map((part) => {
        const proof = shown?.proofs.find((q) => q.id === part.id);
        return <FamilyRow key={part.id} part={part} on={part.id === at} own={proof?.own_hex} want={proof?.want_hex} state={proof?.state} count={things ? shown?.parts.find((q) => q.id === part.id)?.count : undefined} {...handlers} />;
      })}
    </Families>
  );
});
