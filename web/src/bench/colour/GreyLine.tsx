import styled from "styled-components";
import type { Grey } from "../../api/client";
import { Button, NumberRow } from "../../look/controls";
import { Small } from "../../look/Field";
import type { Tool } from "../Stage";

const Box = styled.div`
  border: 1px dashed var(--rule);
  border-radius: 9px;
  padding: 8px 11px;
  display: grid;
  gap: 6px;
`;
const Buttons = styled.span`display: flex; gap: 6px; flex-wrap: wrap;`;

interface Props {
  grey?: Grey;
  tool: Tool;
  onTool: (t: Tool) => void;
  onGrey: (label: string, grey: Grey | undefined) => void;
}

/** By what the picture's light is known: estimated, or from a grey card that was clicked, which brings pictures of one thing in line. */
export function GreyLine({ grey, tool, onTool, onGrey }: Props) {
  return (
    <Box role="group" aria-label="Light of the picture">
      <Small>{grey ? `Its light is known from the grey at x ${Math.round(grey.at[0] ?? 0)}, y ${Math.round(grey.at[1] ?? 0)}.` : "Its light is estimated. With a grey card clicked in each picture, a target looks alike in all of them."}</Small>
      {grey && <NumberRow label="Its lightness" value={grey.lightness ?? 0} min={1} max={100} initial={50} onDrag={() => undefined} onRest={(lightness) => onGrey("lightness of the grey card", { ...grey, lightness })} />}
      <Buttons>
        <Button onPress={() => onTool(tool === "grey" ? "none" : "grey")} aria-pressed={tool === "grey"}>{tool === "grey" ? "Click the grey card" : grey ? "Another grey" : "Click a grey card"}</Button>
        {grey && <Button $kind="quiet" onPress={() => onGrey("estimated light", undefined)}>Estimate it</Button>}
      </Buttons>
    </Box>
  );
}
