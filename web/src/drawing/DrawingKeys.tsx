import { KeysDialog, type Keys } from "../stage/KeysDialog";
import * as words from "../words/drawing";

/** The keys of a drawing. */
const keys: Keys = [
  [[words.click], words.pickAllOfAColourShift],
  [["[", "]"], words.toleranceOfThePick],
  [["A"], words.fitAllThatIsPicked],
  [["H"], words.hideWhatIsPickedAndShow],
  [["F"], words.makeAFamilyOfWhatIs],
  [["U"], words.pickTheFamilyAtHand],
  [["↑", "↓"], words.theFamilyBeforeAndAfterOn],
  [["V"], words.holdTheDrawingAsItCame],
  [["W"], words.splitWithBefore],
  [["0", "1"], words.fitAnd100],
  [["+", "−"], words.zoomCtrlAndTheWheelZoom],
  [["Space"], words.holdAndDragMoveTheDrawing],
  [["C", "P"], words.colourProof],
  [["ctrl Z"], words.undoWithShiftRedo],
  [["Esc"], words.pickNothing],
  [["?"], words.theseKeys],
];

export const DrawingKeys = (p: { open: boolean; onClose: () => void }) => <KeysDialog keys={keys} {...p} />;
