import { KeysDialog, type Keys } from "../stage/KeysDialog";
import { kinds } from "./isolate/kinds";

/** The keys of a photo's bench. */
const keys: Keys = [
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

export const BenchKeys = (p: { open: boolean; onClose: () => void }) => <KeysDialog keys={keys} {...p} />;
