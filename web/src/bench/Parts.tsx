import { useState } from "react";
import styled from "styled-components";
import type { Part, Proof, Recipe } from "../api/client";
import { Button } from "../look/controls";
import { Disc } from "../look/Disc";
import { MenuButton } from "../look/MenuButton";
import { nested } from "./parts";
import { RecipeMenu } from "./recipes/RecipeMenu";
import { NameField } from "../look/TypedField";
import { Small } from "../look/Field";
import { Flow } from "../look/layout";
import { SignButton } from "../look/SignButton";
import * as words from "../words/bench";

const None = styled(Small)`padding: 0 14px 12px;`;

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 9px 14px 5px;
`;
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  max-height: 232px;
  flex: none;
`;
const Row = styled.li<{ $on: boolean }>`
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  padding: 5px 8px 5px 14px;
  ${(p) => p.$on && "background: #fff; box-shadow: inset 3px 0 0 var(--ink), inset 0 1px 0 var(--rule), inset 0 -1px 0 var(--rule);"}
`;
const Choose = styled.button`
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  display: block;
  width: 100%;
  b { font-weight: 600; display: block; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  small { color: var(--ink3); display: block; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
`;

/** The parts of the picture, with their discs. */
export function Parts(p: {
  parts: Part[];
  at?: string;
  proof?: Proof;
  onChoose: (id: string) => void;
  onAdd: () => void;
  onCarry?: () => void;
  recipes: Recipe[];
  /** Makes a new part that a recipe is on already. */
  onRecipe: (r: Recipe) => void;
  onRename: (id: string, name: string) => void;
  onHide: (id: string, hidden: boolean) => void;
  onDelete: (id: string) => void;
  onInside: (p: Part) => void;
  onRest: (p: Part) => void;
  onOverlap: (p: Part) => void;
  onCopy: (p: Part) => void;
}) {
  const [naming, setNaming] = useState<string>();
  return (
    <section aria-label={words.parts}>
      <Head>
        <h2>{words.parts}</h2>
        <Flow as="span">
          {p.onCarry && <Button $kind="quiet" $low onPress={p.onCarry}>{words.fromAPicture}</Button>}
          <Button $kind="quiet" $low onPress={p.onAdd}>{words.newPartHigh}</Button>
          <RecipeMenu label={words.withRecipe} own={p.recipes} onChoose={p.onRecipe} />
        </Flow>
      </Head>
      {p.parts.length === 0 && <None>{words.noneYetTheFirstStrokeMakes}</None>}
      <List>
        {nested(p.parts).map(({ part, depth }) => {
          const q = p.proof?.parts.find((x) => x.id === part.id);
          const on = part.id === p.at;
          return (
            <Row key={part.id} $on={on} style={depth ? { paddingLeft: 14 + 16 * depth } : undefined}>
              <Disc from={q && q.share > 0 ? q.own_hex : "#b5b5b5"} to={q?.want_hex} ring={q?.state ?? "as it is"} size={32} />
              {naming === part.id ? (
                <NameField aria-label={words.nameOfThePart} value={part.name} onValue={(name) => p.onRename(part.id, name)} onLeave={() => setNaming(undefined)} />
              ) : (
                <Choose aria-current={on} title={part.name} onClick={() => p.onChoose(part.id)} onDoubleClick={() => setNaming(part.id)} onKeyDown={(e) => { if (e.key === "F2") setNaming(part.id); }}>
                  <b>{part.name}</b>
                  <small className="num">
                    {part.copy ? words.copy : ""}
                    {q?.delta_e00 !== undefined ? words.deltaEOfTolerance((q.lit_median ?? q.delta_e00).toFixed(1), q.state === "outside" && q.lit_p95 !== undefined ? words.toLitP95(q.lit_p95.toFixed(1)) : "", q.tolerance.toFixed(1)) : words.leftAsItIs}
                    {q ? ` · ${q.share.toFixed(1)} %` : ""}
                    {part.overlap ? words.mayOverlapLow : ""}
                  </small>
                </Choose>
              )}
              <Flow as="span">
                {on && naming !== part.id && (
                  <>
                    <SignButton says={words.renamePartNamed(part.name)} onPress={() => setNaming(part.id)}>
                      <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden><path d="M2 12h2.500L12 4.500 9.500 2 2 9.500zM8 3.500 10.500 6" fill="none" stroke="currentColor" strokeWidth="1.200" /></svg>
                    </SignButton>
                    <MenuButton
                      label={words.moreForPart(part.name)}
                      groups={[{ entries: [
                        { label: words.newPartInsideIt, onAction: () => p.onInside(part) },
                        { label: words.theRestOfItAsA, disabled: !p.parts.some((x) => x.within === part.id), onAction: () => p.onRest(part) },
                        ...(part.copy ? [] : [{ label: words.setACopyBesideIt, disabled: part.picks.length === 0, onAction: () => p.onCopy(part) }]),
                        { label: part.overlap ? words.mayNotOverlapOtherParts : words.mayOverlapOtherParts, onAction: () => p.onOverlap(part) },
                        { label: words.deletePartNamed(part.name), onAction: () => p.onDelete(part.id) },
                      ] }]}
                    >
                      ⋯
                    </MenuButton>
                  </>
                )}
                <SignButton says={part.hidden ? words.paintPartAgainNamed(part.name) : words.leavePartAsItIsFor(part.name)} aria-pressed={!part.hidden} onPress={() => p.onHide(part.id, !part.hidden)}>
                  {part.hidden ? "○" : "◉"}
                </SignButton>
              </Flow>
            </Row>
          );
        })}
      </List>
    </section>
  );
}
