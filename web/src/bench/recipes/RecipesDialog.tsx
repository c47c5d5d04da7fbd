import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { api, explain, unwrap, type Recipe } from "../../api/client";
import { Button, Notice } from "../../look/controls";
import { Dialog } from "../../look/Dialog";
import { Small } from "../../look/Field";
import { TypedField } from "../../look/TypedField";
import { joined } from "./recipes";

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
      p.onChange(`recipes of ${file.name}`, (own) => joined(own, list, ids));
    } catch (e) {
      setProblem(`${file.name}: ${explain(e)}. Nothing of it was taken.`);
    }
  };
  const rename = (r: Recipe, name: string) => {
    p.onChange("rename recipe", (list) => list.map((q) => (q.id === r.id ? { ...q, name } : q)));
  };
  return (
    <Dialog title="Recipes of this job" open={p.open} onClose={p.onClose}>
      {p.own.length === 0 && <Notice>None of its own yet. Give a part a colour, then keep its recipe; or bring a file in.</Notice>}
      {p.own.map((r) => (
        <Row key={r.id}>
          <TypedField aria-label={`Name of ${r.name}`} value={r.name} onValue={(name) => rename(r, name)} />
          <Button aria-label={`Take out ${r.name}`} onPress={() => p.onChange("take recipe out", (list) => list.filter((q) => q.id !== r.id))}>Take out</Button>
          <Small className="num">{r.settings.method ?? "repaint"} to {r.target.css || "no colour"}{r.settings.finish ? ", with a finish" : ""}{r.cast ? ", with its cast" : ""}</Small>
        </Row>
      ))}
      {problem && <Notice strong>{problem}</Notice>}
      <Buttons>
        <FileTrigger acceptedFileTypes={[".json"]} onSelect={(f) => { const one = f?.[0]; if (one) void read(one); }}>
          <Button>From a file</Button>
        </FileTrigger>
        {p.own.length > 0 && <Link href={`/api/jobs/${p.job}/recipe-file`} download>Save as a file</Link>}
        <Button onPress={p.onClose}>Close</Button>
      </Buttons>
    </Dialog>
  );
}
