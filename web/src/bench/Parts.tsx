import styled from "styled-components";
import type { Part, Proof, Recipe } from "../api/client";
import { Button } from "../look/controls";
import { Disc } from "../look/Disc";
import { MenuButton } from "../look/MenuButton";
import { nested } from "./parts";
import { RecipeMenu } from "./recipes/RecipeMenu";
import { PartRow, PartRows } from "../look/PartRow";
import { Small } from "../look/Field";
import { Flow } from "../look/layout";
import { SignButton } from "../look/SignButton";
import { still } from "../look/still";
import * as words from "../words/bench";

const None = styled(Small)`padding: 0 14px 12px;`;

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 9px 14px 5px;
`;
const PartsHead = still(function PartsHead(p: { recipes: Recipe[]; onAdd: () => void; onCarry?: () => void; onRecipe: (r: Recipe) => void }) {
  return (
    <Head>
      <h2>{words.parts}</h2>
      <Flow as="span">
        {p.onCarry && <Button $kind="quiet" $low onPress={p.onCarry}>{words.fromAPicture}</Button>}
        <Button $kind="quiet" $low onPress={p.onAdd}>{words.newPartHigh}</Button>
        <RecipeMenu label={words.withRecipe} own={p.recipes} onChoose={p.onRecipe} />
      </Flow>
    </Head>
  );
});

const pencil = <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden><path d="M2 12h2.500L12 4.500 9.500 2 2 9.500zM8 3.500 10.500 6" fill="none" stroke="currentColor" strokeWidth="1.200" /></svg>;

/** The parts of the picture, with their discs. */
export const Parts = still(function Parts(p: {
  parts: Part[];
  at?: string;
  proof?: Proof;
  /** That is not of what is shown by now. */
  measuring: boolean;
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
  return (
    <section aria-label={words.parts}>
      <PartsHead recipes={p.recipes} onAdd={p.onAdd} onCarry={p.onCarry} onRecipe={p.onRecipe} />
      {p.parts.length === 0 && <None>{words.noneYetTheFirstStrokeMakes}</None>}
      <PartRows>
        {nested(p.parts).map(({ part, depth }) => {
          const q = p.proof?.parts.find((x) => x.id === part.id);
          const on = part.id === p.at;
          const unmeasured = (!q || p.measuring) && !!part.target.css && !part.hidden; // its proof is on its way, or does not come
          return (
            <PartRow
              key={part.id}
              name={part.name}
              naming={words.nameOfThePart}
              on={on}
              depth={depth}
              disc={<Disc from={q && q.share > 0 ? q.own_hex : "#b5b5b5"} to={q?.want_hex} ring={unmeasured ? "unmeasured" : (q?.state ?? "as it is")} size={32} />}
              onChoose={() => p.onChoose(part.id)}
              onRename={(name) => p.onRename(part.id, name)}
              end={(rename) => <Flow as="span">
                {on && rename && (
                  <>
                    <SignButton says={words.renamePartNamed(part.name)} onPress={rename}>
                      {pencil}
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
              </Flow>}
            >
              {part.copy ? words.copy : ""}
              {q?.delta_e00 !== undefined ? words.deltaEOfTolerance((q.lit_median ?? q.delta_e00).toFixed(1), q.state === "outside" && q.lit_p95 !== undefined ? words.toLitP95(q.lit_p95.toFixed(1)) : "", q.tolerance.toFixed(1)) : unmeasured ? words.notMeasuredYet : words.leftAsItIs}
              {q ? ` · ${q.share.toFixed(1)} %` : ""}
              {part.overlap ? words.mayOverlapLow : ""}
            </PartRow>
          );
        })}
      </PartRows>
    </section>
  );
});
