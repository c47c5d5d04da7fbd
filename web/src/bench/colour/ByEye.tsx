import { useContext, useState } from "react";
import { Dialog, DialogTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import { Button } from "../../look/controls";
import { Disc } from "../../look/Disc";
import { GoesAhead } from "../../look/goesAhead";
import { whenShown } from "../../look/later";
import { Looking } from "./looking";
import { isRelative } from "./relative";
import { useColour } from "./useColour";
import * as words from "../../words/colour";

const Room = styled.div`height: 390px;`;
const Planes = whenShown(() => import("./Planes").then((m) => m.default), <Room />);

export interface Eye {
  label: string;
  /** The colour as it stands; empty where none is set. */
  value: string;
  /** The thing's own colour, marked on the plane. */
  own?: string;
  /** Whether the value may start from the thing's own colour. */
  relative?: boolean;
  /** What a hand that moves is shown meanwhile. */
  onDrag?: (css: string) => void;
  onColour: (css: string) => void;
}

/** A colour chosen by eye: on a plane of lightness and chroma with the edge of what the screen can show, or by hue, saturation and brightness. */
export function ByEye(p: Eye) {
  const [open, setOpen] = useState(false);
  const { job } = useContext(Looking);
  const known = CSS.supports("color", p.value) && !isRelative(p.value); // inks are no colour of the browser's
  const read = useColour(known ? "" : p.value, job, p.relative ? p.own : undefined);
  return (
    <DialogTrigger isOpen={open} onOpenChange={setOpen}>
      <Trigger $kind="quiet" aria-label={words.chooseByEyeLabel(p.label)}>
        <Disc from={(known ? p.value : read?.hex) ?? "transparent"} size={18} />
      </Trigger>
      <Popover placement="bottom end" offset={4}>
        {/* Its planes move with their rows. */}
        <Card aria-label={words.labelByEye(p.label)}>{open && <GoesAhead value={false}><Planes {...p} /></GoesAhead>}</Card>
      </Popover>
    </DialogTrigger>
  );
}

const Trigger = styled(Button)`
  padding: 0;
  border-radius: 50%;
  display: grid;
  border: 1px dotted var(--edge);
`;
const Card = styled(Dialog)`
  background: var(--card);
  border: 1px solid var(--ink);
  border-radius: 8px;
  padding: 10px 12px;
  width: 306px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  outline: none;
  max-height: inherit; /* of the popover, which knows what room there is */
  overflow: hidden auto;
  scrollbar-gutter: stable; /* a row that comes later moves nothing under the hand */
`;
