import type { ReactNode } from "react";
import styled from "styled-components";
import { Banner } from "../look/Bench";
import { Button, Notice } from "../look/controls";
import type { useDocument } from "./useDocument";
import * as words from "../words/bench";

const Buttons = styled.span`display: flex; gap: 6px;`;
const Said = styled.p`margin-bottom: 7px;`;

interface Props {
  doc: ReturnType<typeof useDocument>;
  what: "picture" | "drawing";
  /** What went wrong on the stage. */
  problem?: string;
  onDismiss: () => void;
  /** What else there is to say. */
  children?: ReactNode;
}

/** What is said over the stage: that somebody else changed the picture, that the line is gone, and what went wrong. */
export function Told({ doc, what, problem, onDismiss, children }: Props) {
  const away = doc.saving === "offline"; // all else that goes wrong meanwhile follows from it
  return (
    <Banner>
      {doc.theirs && (
        <Notice strong>
          <Said>{words.thisWhatWasChangedElsewhereWhile(what)}</Said>
          <Buttons>
            <Button $kind="solid" onPress={() => doc.settle(true)}>{words.keepMineTheirsAsAnUndo}</Button>
            <Button onPress={() => doc.settle(false)}>{words.takeTheirs}</Button>
          </Buttons>
        </Notice>
      )}
      {away && <Notice strong>{words.theServerDoesNotAnswerYour}</Notice>}
      {doc.problem && !away && <Notice strong>{doc.problem} <Button $kind="quiet" onPress={doc.clearProblem}>{words.dismiss}</Button></Notice>}
      {problem && problem !== doc.problem && !away && <Notice>{problem} <Button $kind="quiet" onPress={onDismiss}>{words.dismiss}</Button></Notice>}
      {children}
    </Banner>
  );
}
