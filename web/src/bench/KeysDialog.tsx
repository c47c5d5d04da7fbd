import styled from "styled-components";
import { Key, Toggle } from "../look/controls";
import { Dialog } from "../look/Dialog";
import { kinds } from "./isolate/kinds";
import { setSingleKeys, useSingleKeys } from "./useKeys";

const List = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 16px;
  font-size: 12.5px;
  margin: 0;
  dt { justify-self: end; white-space: nowrap; }
  dd { margin: 0; }
`;

const keys: [string[], string][] = [
  ...Object.values(kinds).flatMap((k): [string[], string][] => (k.key ? [[[k.key], k.name]] : [])),
  [["Alt"], "while working: take away, or what it is not"],
  [["X"], "swap adding and taking away"],
  [["Shift"], "straight strokes; one more sample"],
  [["[", "]"], "size; with Like colours the tolerance"],
  [[",", "."], "Sweep: reach less or more, also while drawing"],
  [["U"], "once more: the next of what Subject may mean"],
  [["E"], "Brush: keep to edges, on and off"],
  [["N"], "check the edge at 100 %, step by step; Shift N back"],
  [["V"], "hold: the picture as it came in"],
  [["W"], "wipe: split the stage; the knob moves the line, its ends turn it"],
  [["Q"], "pair: before and now side by side"],
  [["K"], "blink between before and now"],
  [["G"], "loupe with before and now"],
  [["Y"], "take the colour of a place; A: the match point"],
  [["J"], "mending brush"],
  [["F"], "patch: cover what must go"],
  [["Space"], "hold and drag: move the picture"],
  [["←", "→", "↑", "↓"], "on the stage: move the tool, with Shift finely; with ctrl, or without a tool, the picture"],
  [["Enter"], "on the stage: press the tool, and lift it again; twice closes an outline"],
  [["Alt ←", "Alt →"], "on a split stage: move its line; with Shift turn it"],
  [["0", "1"], "fit, and 100 %"],
  [["+", "−"], "zoom; ctrl and the wheel zoom to the pointer"],
  [["I", "C", "P"], "Isolate, Colour, Proof"],
  [["Alt ↑", "Alt ↓"], "move a pick"],
  [["ctrl Z"], "undo; with Shift redo"],
  [["F2"], "rename the part"],
  [["?"], "these keys"],
];

export function KeysDialog(p: { open: boolean; onClose: () => void }) {
  const everywhere = useSingleKeys();
  return (
    <Dialog title="Keys" open={p.open} onClose={p.onClose}>
      <Toggle on={everywhere} onChange={setSingleKeys}>Keys without ctrl act anywhere on this page, not on the stage alone</Toggle>
      <List>
        {keys.map(([k, what]) => [
          <dt key={`${what}k`}>
            {k.map((x) => (
              <span key={x}> <Key>{x}</Key></span>
            ))}
          </dt>,
          <dd key={what}>{what}</dd>,
        ])}
      </List>
    </Dialog>
  );
}
