import styled from "styled-components";
import { Key } from "../look/controls";
import { Dialog } from "../look/Dialog";

const List = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 16px;
  margin: 0;
  dt { justify-self: end; white-space: nowrap; }
  dd { margin: 0; }
`;

const keys: [string[], string][] = [
  [["S"], "Sweep: drag inside, it grows to the edges"],
  [["B"], "Brush"],
  [["Alt"], "while dragging: take away"],
  [["X"], "swap adding and taking away"],
  [["Shift"], "click: a straight stroke from the last point"],
  [["[", "]"], "smaller and larger"],
  [["V"], "hold: the picture as it came in"],
  [["W"], "wipe: split the stage into before and after"],
  [["Space"], "hold and drag: move the picture"],
  [["0", "1"], "fit, and 100 %"],
  [["+", "−"], "zoom; ctrl and the wheel zoom to the pointer"],
  [["I", "C", "P"], "Isolate, Colour, Proof"],
  [["ctrl Z"], "undo; with Shift redo"],
  [["F2"], "rename the part"],
  [["?"], "these keys"],
];

export function KeysDialog(p: { open: boolean; onClose: () => void }) {
  return (
    <Dialog title="Keys" open={p.open} onClose={p.onClose}>
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
