import { useState } from "react";
import styled from "styled-components";
import type { Part, Recipe } from "../../api/client";
import { Button } from "../../look/controls";
import { Field } from "../../look/Field";
import { Line } from "../colour/ColourField";
import { still } from "../../look/still";
import { onto } from "./recipes";
import { RecipeMenu } from "./RecipeMenu";
import { RecipesDialog } from "./RecipesDialog";
import * as words from "../../words/recipes";

const Buttons = styled.div`
  grid-column: 2 / -1;
  display: flex;
  flex-wrap: wrap;
`;
const Naming = styled.form`
  grid-column: 2 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  input { width: 100%; }
`;

interface Props {
  job: string;
  /** What the part is called, and whether it has anything to keep. */
  name: string;
  keeps: boolean;
  /** The part's own, under a name. */
  recipe: (name: string) => Recipe;
  own: Recipe[];
  onPart: (label: string, change: Partial<Part>) => void;
  onRecipes: (label: string, how: (list: Recipe[]) => Recipe[]) => void;
}

/** Puts a recipe on the part at hand, or keeps the part's own. */
export const RecipeLine = still(function RecipeLine({ job, name: called, keeps, recipe, own, onPart, onRecipes }: Props) {
  const [naming, setNaming] = useState(false);
  const [managing, setManaging] = useState(false);
  const keep = (name: string) => {
    setNaming(false);
    if (!name.trim()) return;
    const r = recipe(name);
    onRecipes(words.keepRecipeName(r.name), (list) => [...list.filter((q) => q.id !== r.id), r]);
  };
  return (
    <Line>
      <span>{words.recipe}</span>
      {naming ? (
        <Naming onSubmit={(e) => { e.preventDefault(); keep(String(new FormData(e.currentTarget).get("name"))); }}>
          <Field name="name" autoFocus aria-label={words.nameOfTheRecipe} defaultValue={called} maxLength={200} onFocus={(e) => e.target.select()} onKeyDown={(e) => { if (e.key === "Escape") setNaming(false); }} />
          <Button $kind="solid" type="submit">{words.keep}</Button>
          <Button $kind="quiet" onPress={() => setNaming(false)}>{words.notNow}</Button>
        </Naming>
      ) : (
        <Buttons>
          <RecipeMenu label={words.putOneOn} own={own} onChoose={(r) => onPart(words.recipeName(r.name), onto(r))} onManage={() => setManaging(true)} />
          {keeps && <Button $kind="quiet" onPress={() => setNaming(true)}>{words.keepThisOne}</Button>}
        </Buttons>
      )}
      <RecipesDialog job={job} own={own} open={managing} onClose={() => setManaging(false)} onChange={onRecipes} />
    </Line>
  );
});
