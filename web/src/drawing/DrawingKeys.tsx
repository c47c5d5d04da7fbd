import { KeysDialog, type Keys } from "../stage/KeysDialog";

/** The keys of a drawing. */
const keys: Keys = [
  [["Click"], "pick all of a colour; Shift adds, Alt takes away"],
  [["[", "]"], "tolerance of the pick"],
  [["A"], "fit all that is picked"],
  [["H"], "hide what is picked, and show it again"],
  [["F"], "make a family of what is picked"],
  [["U"], "pick the family at hand"],
  [["↑", "↓"], "the family before and after, on the stage"],
  [["V"], "hold: the drawing as it came in"],
  [["W"], "split with before"],
  [["0", "1"], "fit, and 100 %"],
  [["+", "−"], "zoom; ctrl and the wheel zoom to the pointer"],
  [["Space"], "hold and drag: move the drawing"],
  [["C", "P"], "Colour, Proof"],
  [["ctrl Z"], "undo; with Shift redo"],
  [["Esc"], "pick nothing"],
  [["?"], "these keys"],
];

export const DrawingKeys = (p: { open: boolean; onClose: () => void }) => <KeysDialog keys={keys} {...p} />;
