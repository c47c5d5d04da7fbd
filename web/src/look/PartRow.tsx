import { useState, type ReactNode } from "react";
import styled, { css } from "styled-components";
import { NameField } from "./TypedField";

/** Parts of a photo or families of a drawing, one below the other. */
export const PartRows = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  max-height: 232px;
  flex: none;
`;
const Row = styled.li<{ $on: boolean; $over: boolean; $depth: number; $close?: boolean }>`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  padding: ${(p) => (p.$close ? 3 : 5)}px 8px ${(p) => (p.$close ? 3 : 5)}px ${(p) => 14 + 16 * p.$depth}px;
  ${(p) => p.$on && css`background: #fff; box-shadow: inset 3px 0 0 var(--ink), inset 0 1px 0 var(--rule), inset 0 -1px 0 var(--rule);`}
  ${(p) => p.$over && css`outline: 2px solid var(--ink); outline-offset: -2px;`}
`;
const Choose = styled.button`
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  display: block;
  width: 100%;
  b, small { display: block; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  b { font-weight: 600; }
  small { color: var(--ink3); }
`;

interface Props {
  name: string;
  /** What the field is called in which it is renamed: by a double click, F2, or what else calls rename. */
  naming: string;
  on: boolean;
  disc: ReactNode;
  /** What is told of it below its name. */
  children: ReactNode;
  /** What stands at its end; rename is undefined while it is being renamed. */
  end: (rename: (() => void) | undefined) => ReactNode;
  onChoose: () => void;
  onRename: (name: string) => void;
  /** How deep inside others it lies. */
  depth?: number;
  close?: boolean;
  /** What is dropped onto it as text. */
  onDrop?: (text: string) => void;
}

/** A part's row: its disc, its name, which can be changed, what is told of it, and what can be done with it. */
export function PartRow(p: Props) {
  const [naming, setNaming] = useState(false);
  const [over, setOver] = useState(false);
  const { onDrop } = p;
  const rename = () => setNaming(true);
  return (
    <Row
      $on={p.on}
      $over={over}
      $depth={p.depth ?? 0}
      $close={p.close}
      {...(onDrop && {
        onDragOver: (e) => { e.preventDefault(); setOver(true); },
        onDragLeave: () => setOver(false),
        onDrop: (e) => { e.preventDefault(); setOver(false); onDrop(e.dataTransfer.getData("text/plain")); },
      })}
    >
      {p.disc}
      {naming ? (
        <NameField aria-label={p.naming} value={p.name} onValue={p.onRename} onLeave={() => setNaming(false)} />
      ) : (
        <Choose aria-current={p.on} title={p.name} onClick={p.onChoose} onDoubleClick={rename} onKeyDown={(e) => { if (e.key === "F2") rename(); }}>
          <b>{p.name}</b>
          <small className="num" data-measured>{p.children}</small>
        </Choose>
      )}
      {p.end(naming ? undefined : rename)}
    </Row>
  );
}
