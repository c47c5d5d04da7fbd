import styled from "styled-components";
import { Banner } from "../look/Bench";
import { Button, Notice } from "../look/controls";
import type { useDocument } from "./useDocument";

const Buttons = styled.span`display: flex; gap: 6px;`;
const Said = styled.p`margin-bottom: 7px;`;

/** What is said over the stage: that somebody else changed the picture, that the line is gone, and what went wrong. */
export function Told({ doc, problem }: { doc: ReturnType<typeof useDocument>; problem?: string }) {
  return (
    <Banner>
      {doc.theirs && (
        <Notice strong>
          <Said>This picture was changed elsewhere while you worked on it. Yours is not stored yet; nothing is lost.</Said>
          <Buttons>
            <Button $kind="solid" onPress={() => doc.settle(true)}>Keep mine, theirs as an undo step</Button>
            <Button onPress={() => doc.settle(false)}>Take theirs</Button>
          </Buttons>
        </Notice>
      )}
      {doc.saving === "offline" && <Notice strong>The server does not answer. Your edits are kept here and stored as soon as it does.</Notice>}
      {doc.problem && doc.saving !== "offline" && (
        <Notice strong>
          {doc.problem} <Button $kind="quiet" onPress={doc.clearProblem}>Dismiss</Button>
        </Notice>
      )}
      {problem && doc.saving !== "offline" && <Notice>{problem}</Notice>}
    </Banner>
  );
}
