import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { api, explain, unwrap, type Recipe } from "../../api/client";
import { Button, Notice } from "../../look/controls";
import { Dialog } from "../../look/Dialog";
import { Small } from "../../look/Field";
import { TypedField } from "../../look/TypedField";
import { joined } from "./recipes";
import * as words from "../../words/recipes";

const Row = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 8px;
  align-items: center;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--rule);
  > small { grid-column: 1 / 3; overflow-wrap: anywhere; }
`;
const Buttons = styled.div`display: flex; gap: 8px; flex-wrap: wrap;`;
const Link = styled.a`text-decoration: underline; align-self: center;`;

interface Props {
  job: string;
  own: Recipe[];
  open: boolean;
  onClose: () => void;
  /** Changes the job's own recipes, as a step of its history. */
  onChange: (label: string, how: (list: Recipe[]) => Recipe[]) => void;
}

/** The job's own recipes: named anew, taken out, brought in and given out. */
export function RecipesDialog(p: Props) {
  const [problem, setProblem] = useState<string>();
  const read = async (file: File) => {
    try {
      const list = await unwrap(api.POST("/api/recipe-file", { body: await file.text(), bodySerializer: (b) => b, headers: { "Content-Type": "text/plain" } }));
      setProblem(undefined);
      const ids = list.map(() => crypto.randomUUID()); // once: a change that is made again is the same
      p.onChange(words.recipesOfFile(file.name), (own) => joined(own, list, ids));
    } catch (e) {
      setProblem(words.nothingOfItWasTaken(file.name, explain(e)));
    }
  };
  const rename = (r: Recipe, name: string) => {
    p.onChange(words.renameRecipe, (list) => list.map((q) => (q.id === r.id ? { ...q, name } : q)));
  };
  return (
    <Dialog title={words.recipesOfThisJobHigh} open={p.open} onClose={p.onClose}>
      {p.own.length === 0 && <Notice>{words.noneOfItsOwnYetGive}</Notice>}
      {p.own.map((r) => (
        <Row key={r.id}>
          <TypedField aria-label={words.nameOfName(r.name)} value={r.name} onValue={(name) => rename(r, name)} />
          <Button aria-label={words.takeOutName(r.name)} onPress={() => p.onChange(words.takeRecipeOut, (list) => list.filter((q) => q.id !== r.id))}>{words.takeOut}</Button>
          <Small className="num">{words.methodToCss(r.settings.method ?? "repaint", r.target.css || words.noColour)}{r.settings.finish ? words.withAFinish : ""}{r.cast ? words.withItsCast : ""}</Small>
        </Row>
      ))}
      {problem && <Notice strong>{problem}</Notice>}
      <Buttons>
        <FileTrigger acceptedFileTypes={[".json"]} onSelect={(f) => { const one = f?.[0]; if (one) void read(one); }}>
          <Button>{words.fromAFile}</Button>
        </FileTrigger>
        {p.own.length > 0 && <Link href={`/api/jobs/${p.job}/recipe-file`} download>{words.saveAsAFile}</Link>}
        <Button onPress={p.onClose}>{words.close}</Button>
      </Buttons>
    </Dialog>
  );
}
