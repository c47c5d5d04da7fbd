import { KeysDialog, type Keys } from "../stage/KeysDialog";
import { kinds } from "./isolate/kinds";
import * as words from "../words/bench";

/** The keys of a photo's bench. */
const keys: Keys = [
  ...Object.values(kinds).flatMap((k): [string[], string][] => (k.key ? [[[k.key], k.name]] : [])),
  [["Alt"], words.whileWorkingTakeAwayOrWhat],
  [["X"], words.swapAddingAndTakingAway],
  [["Shift"], words.straightStrokesOneMoreSample],
  [["[", "]"], words.sizeWithLikeColoursTheTolerance],
  [[",", "."], words.sweepReachLessOrMoreAlso],
  [["U"], words.onceMoreTheNextOfWhat],
  [["E"], words.brushKeepToEdgesOnAnd],
  [["N"], words.checkTheEdgeAt100Step],
  [["V"], words.holdThePictureAsItCame],
  [["W"], words.wipeSplitTheStageTheKnob],
  [["Q"], words.pairBeforeAndNowSideBy],
  [["K"], words.blinkBetweenBeforeAndNow],
  [["G"], words.loupeWithBeforeAndNow],
  [["Y"], words.takeTheColourOfAPlace],
  [["J"], words.mendingBrush],
  [["F"], words.patchCoverWhatMustGo],
  [["Space"], words.holdAndDragMoveThePicture],
  [["←", "→", "↑", "↓"], words.onTheStageMoveTheTool],
  [["Enter"], words.onTheStagePressTheTool],
  [["Alt ←", "Alt →"], words.onASplitStageMoveIts],
  [["0", "1"], words.fitAnd100],
  [["+", "−"], words.zoomCtrlAndTheWheelZoom],
  [["I", "C", "P"], words.isolateColourProof],
  [["Alt ↑", "Alt ↓"], words.moveAPick],
  [["ctrl Z"], words.undoWithShiftRedo],
  [["F2"], words.renameThePart],
  [["?"], words.theseKeys],
];

export const BenchKeys = (p: { open: boolean; onClose: () => void }) => <KeysDialog keys={keys} {...p} />;
