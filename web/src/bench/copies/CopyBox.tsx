import styled from "styled-components";
import type { Copy, Part, Shadow } from "../../api/client";
import { Button, Heading } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Small } from "../../look/Field";
import { ColourField, Line } from "../colour/ColourField";
import type { Tool } from "../stage/tools";
import { before } from "./copies";
import type { Copying } from "./useCopy";
import * as words from "../../words/copies";

const Box = styled.div`
  display: grid;
  gap: 8px;
`;
const Buttons = styled.span`display: flex; gap: 6px; flex-wrap: wrap; align-items: center;`;

interface Props {
  part: Part;
  parts: Part[];
  copy: Copy;
  copying: Copying;
  picture: { width: number; height: number };
  tool: Tool;
  onTool: (t: Tool) => void;
}

/** How a copy stands: where, how large, in what light, behind what, and the shadow it throws. */
export function CopyBox({ part, parts, copy, copying: c, picture, tool, onTool }: Props) {
  const original = parts.find((q) => q.id === copy.of);
  const front = before(parts, part.id);
  const at = parts.findIndex((q) => q.id === part.id);
  const put = (label: string, what: Partial<Copy>, done: boolean) => c.change(words.copySetting(label), { ...copy, ...what }, done);
  const row = (label: string, value: number, min: number, max: number, initial: number, to: (v: number) => Partial<Copy>, extra?: { signed?: boolean; unit?: string; step?: number }) => (
    <NumberRow label={label} value={value} min={min} max={max} initial={initial} {...extra} onDrag={(v) => put(label, to(v), false)} onRest={(v) => put(label, to(v), true)} />
  );
  const [x = 0, y = 0] = copy.at;
  const shadow = copy.shadow;
  const cast = (what: Partial<Shadow>): Partial<Copy> => (shadow ? { shadow: { ...shadow, ...what } } : {});
  return (
    <Box role="group" aria-label={words.copy}>
      <Heading>{copy.cut ? words.fromAnotherPicture : words.copyOfOriginal(original?.name ?? words.aPart)}</Heading>
      <Buttons>
        <Button aria-pressed={tool === "copy"} $held={tool === "copy"} onPress={() => onTool(tool === "copy" ? "none" : "copy")}>{tool === "copy" ? words.dragThePicture : words.moveItOnThePicture}</Button>
        <Button aria-pressed={!!copy.flip} $held={!!copy.flip} onPress={() => put(words.flipLow, { flip: !copy.flip || undefined }, true)}>{words.flip}</Button>
      </Buttons>
      {row(words.across, x, 0, picture.width, copy.about[0] ?? 0, (v) => ({ at: [v, y] }), { unit: "px" })}
      {row(words.down, y, 0, picture.height, copy.about[1] ?? 0, (v) => ({ at: [x, v] }), { unit: "px" })}
      {row(words.size, Math.round(1000 * (copy.scale || 1)) / 10, 5, 400, 100, (v) => ({ scale: v === 100 ? undefined : v / 100 }), { unit: "%" })}
      {row(words.turned, copy.turn ?? 0, -180, 180, 0, (v) => ({ turn: v || undefined }), { signed: true, unit: "°" })}
      <Toggle on={!!copy.relit} onChange={(on) => put(words.light, { relit: on || undefined }, true)}>{words.litFromTheOtherSide}</Toggle>
      <Buttons>
        <Button isDisabled={at <= 0} onPress={() => c.order(-1)}>{words.furtherBack}</Button>
        <Button isDisabled={at >= parts.length - 1} onPress={() => c.order(1)}>{words.furtherToTheFront}</Button>
      </Buttons>
      <Small>{front.length === 0 ? words.beforeAllOtherParts : words.behindFrontMore(front.slice(0, 3).map((q) => q.name).join(", "), front.length > 3 ? words.andFrontMore(front.length - 3) : "")}</Small>
      <Heading>{words.itsShadow}</Heading>
      <Toggle on={!!shadow} onChange={(on) => put(on ? words.shadow : words.noShadow, { shadow: on ? { direction: 20, length: 0.3, softness: Math.max(2, Math.round(picture.width / 100)), strength: 45 } : undefined }, true)}>{words.throwsAShadow}</Toggle>
      {shadow && (
        <>
          {row(words.fallsTo, shadow.direction, -180, 180, 20, (direction) => cast({ direction }), { signed: true, unit: "°" })}
          {row(words.length, Math.round(100 * shadow.length), 0, 300, 30, (v) => cast({ length: v / 100 }), { unit: "%" })}
          {row(words.softness, shadow.softness, 0, 200, 10, (softness) => cast({ softness }), { unit: "px" })}
          {row(words.strength, shadow.strength, 0, 100, 45, (strength) => cast({ strength }), { unit: "%" })}
          <Line>
            <span>{words.colour}</span>
            <ColourField label={words.colourOfTheShadow} value={shadow.colour ?? ""} placeholder={words.black} onDrag={(colour) => put(words.shadow, cast({ colour }), false)} onColour={(colour) => put(words.colourOfTheShadowLow, cast({ colour: colour || undefined }), true)} />
            <span />
          </Line>
        </>
      )}
    </Box>
  );
}
