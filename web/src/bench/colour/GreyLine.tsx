import { useQuery } from "@tanstack/react-query";
import styled from "styled-components";
import { api, unwrap, type Grey } from "../../api/client";
import { Button, Notice } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Small } from "../../look/Field";
import type { Tool } from "../stage/tools";
import * as words from "../../words/colour";

const Box = styled.div`
  border: 1px dashed var(--rule);
  border-radius: 9px;
  padding: 8px 11px;
  display: grid;
  gap: 6px;
`;
const Buttons = styled.span`display: flex; gap: 6px; flex-wrap: wrap;`;

interface Props {
  picture: string;
  grey?: Grey;
  tool: Tool;
  onTool: (t: Tool) => void;
  onGrey: (label: string, grey: Grey | undefined) => void;
}

/** By what the picture's light is known: estimated, or from a grey card that was clicked, which brings pictures of one thing in line. */
export function GreyLine({ picture, grey, tool, onTool, onGrey }: Props) {
  const [x, y] = grey?.at ?? [];
  const doubt = useQuery({
    queryKey: [words.greyCard, picture, x, y],
    enabled: x !== undefined && y !== undefined,
    staleTime: Infinity,
    queryFn: () => unwrap(api.POST("/api/pictures/{picture}/probe", { params: { path: { picture } }, body: { x: x ?? 0, y: y ?? 0, card: true, document: { parts: [] } } })),
  }).data?.card_doubt;
  return (
    <Box role="group" aria-label={words.lightOfThePicture}>
      <Small>{grey ? words.itsLightIsKnownFromThe(Math.round(grey.at[0] ?? 0), Math.round(grey.at[1] ?? 0)) : words.itsLightIsEstimatedWithA}</Small>
      {doubt && <Notice>{words.isThatAGreyCardDoubt(doubt[0]?.toUpperCase() + doubt.slice(1))}</Notice>}
      {grey && <NumberRow label={words.itsLightness} value={grey.lightness ?? 0} min={1} max={100} initial={50} onDrag={() => undefined} onRest={(lightness) => onGrey(words.lightnessOfTheGreyCard, { ...grey, lightness })} />}
      <Buttons>
        <Button onPress={() => onTool(tool === "grey" ? "none" : "grey")} aria-pressed={tool === "grey"} $held={tool === "grey"}>{tool === "grey" ? words.clickTheGreyCard : grey ? words.anotherGrey : words.clickAGreyCard}</Button>
        {grey && <Button $kind="quiet" onPress={() => onGrey(words.estimatedLight, undefined)}>{words.estimateIt}</Button>}
      </Buttons>
    </Box>
  );
}
