import type { Said } from "./said";

/* The words of the page of a drawing, in the order of the files they stand in. */

// DrawingBar
export const compare = "Compare";
export const now = "Now";
export const split = "Split";

// DrawingFoot
export const drawing = "drawing";
export const boards = "Boards";
export const allBoards = (boards: Said) => `All ${boards} boards`;
export const whatIsPicked = "What is picked";
export const both = "Both";
export const fills = "Fills";
export const strokes = "Strokes";
export const within = "within";
export const toleranceCiede2000 = "Tolerance, CIEDE2000";
export const onSomeOfTheBoards = (onBoards: Said, boards: Said) => ` · on ${onBoards} of ${boards} boards`;
export const showAgain = "Show again";
export const hideWhatIsPicked = "Hide what is picked";
export const fitAllOfIt = "Fit all of it";
export const makeAFamilyOfIt = "Make a family of it";
export const clickAShapeAllOfIts = "Click a shape: all of its colour is picked. ";
export const shift = "Shift";
export const adds = " adds, ";
export const alt = "Alt";
export const takesAway = " takes away";

// DrawingKeys
export const click = "Click";
export const pickAllOfAColourShift = "pick all of a colour; Shift adds, Alt takes away";
export const toleranceOfThePick = "tolerance of the pick";
export const fitAllThatIsPicked = "fit all that is picked";
export const hideWhatIsPickedAndShow = "hide what is picked, and show it again";
export const makeAFamilyOfWhatIs = "make a family of what is picked";
export const pickTheFamilyAtHand = "pick the family at hand";
export const theFamilyBeforeAndAfterOn = "the family before and after, on the stage";
export const holdTheDrawingAsItCame = "hold: the drawing as it came in";
export const splitWithBefore = "split with before";
export const fitAnd100 = "fit, and 100 %";
export const zoomCtrlAndTheWheelZoom = "zoom; ctrl and the wheel zoom to the pointer";
export const holdAndDragMoveTheDrawing = "hold and drag: move the drawing";
export const colourProof = "Colour, Proof";
export const undoWithShiftRedo = "undo; with Shift redo";
export const pickNothing = "pick nothing";
export const theseKeys = "these keys";

// DrawingPage
export const sampledColour = "sampled colour";
export const familyOfWhatIsPicked = "family of what is picked";
export const listFamilies = (list: Said) => `${list} families`;
export const newColour = "new colour";
export const renameFamily = "rename family";
export const holdFamily = "hold family";
export const letFamilyGo = "let family go";
export const moveAColour = "move a colour";
export const pictureEpisema = (picture: Said) => `${picture} · Episema`;
export const episema = "Episema";
export const openingTheDrawing = "Opening the drawing";
export const familiesAndTheirColours = "Families and their colours";
export const workOnItAsAPhoto = "work on it as a photo";
export const facesOfTheFamily = "Faces of the family";
export const colour = "Colour";
export const proof = "Proof";
export const leftOutOfTheDrawingAs = (leftOut: Said) => `Left out of the drawing, as it could run or fetch something: ${leftOut}. `;
export const dismiss = "Dismiss";
export const oneEmbeddedPictureKeepsItsColours = "One embedded picture keeps its colours.";
export const imagesEmbeddedPicturesKeepTheirColours = (images: Said) => `${images} embedded pictures keep their colours.`;
export const openItAsAPhoto = "Open it as a photo";
export const openTheWhatAsAPhoto = (what: Said) => `Open the ${what} as a photo`;

// DrawingProof
export const leftAsItIs = "left as it is";
export const cannotBeReached = "cannot be reached";
export const measuring = "Measuring";
export const toTheirTargets = "To their targets";
export const noFamilyHasATargetYet = "No family has a target yet.";
export const nearestReached = (nearestHex: Said) => `; nearest ${nearestHex}`;
export const deltaEDeltaE00OfTolerance = (deltaE00: Said, tolerance: Said) => `ΔE ${deltaE00} of ${tolerance}`;
export const hardToTellApartNow = "Hard to tell apart now";
export const noTwoColoursThatLieOn = "No two colours that lie on each other came closer than ΔE 2.3.";
export const goTo = "Go to";
export const contrastOfTexts = "Contrast of texts";
export const theDrawingHasNoTexts = "The drawing has no texts.";
export const allTextsHaveTheContrastWcag = "All texts have the contrast WCAG 2.2 asks for at level AA.";
export const text = "Text";
export const contrastAndWanted = (was: Said, isIt: Said) => `${was} → ${isIt}, wants `;
export const withinTolerance = "within";
export const outsideTolerance = "outside";

// DrawingStage
export const theDrawingClickAShapeTo = "The drawing: click a shape to pick all of its colour; Shift adds, Alt takes away";
export const before = "Before";
export const whereBeforeEnds = "Where before ends";

// FamiliesPane
export const families = "Families";
export const asAPhoto = "As a photo";
export const regroupColours = "Regroup colours";
export const howMany = "How many";
export const theDrawingHasNoColoursOf = "The drawing has no colours of its own.";

// FamilyFace
export const showWhereItIs = "Show where it is";
export const unlockColour = (colour: Said) => `Unlock ${colour}`;
export const lockColour = (colour: Said) => `Lock ${colour}`;
export const moveColourToAnotherFamily = (colour: Said) => `Move ${colour} to another family`;
export const move = "Move";
export const toAFamilyOfItsOwn = "to a family of its own";
export const toName = (name: Said) => `to ${name}`;
export const thereIsNothingToRecolourHere = "There is nothing to recolour here. An embedded picture can be opened as a photo.";
export const noFamilyIsChosenClickA = "No family is chosen. Click a shape of the drawing, or a family in the list.";
export const inTheDrawing = "In the drawing";
export const setHere = "Set here";
export const leftAsItIsHigh = "Left as it is";
export const heldNotOneByteOfThese = "Held: not one byte of these colours changes.";
export const coloursOfThePalette = "Colours of the palette";
export const target = "Target";
export const n1d6a72LabCmyk = "#1d6a72, lab(), cmyk()";
export const leaveAsItIs = "leave as it is";
export const clickIt = "Click it";
export const sample = "Sample";
export const members = "Members";
export const howTheMembersFollow = "How the members follow";
export const howTheMembersFollowLow = "how the members follow";
export const keepTheTints = "Keep the tints";
export const allAlike = "All alike";
export const hue = "Hue";
export const saturation = "Saturation";
export const lightness = "Lightness";
export const resetPart = (part: Said) => `reset ${part}`;
export const resetThisFamily = "Reset this family";
export const addTargetToPalette = "Add target to palette";
export const addMainColourToPalette = "Add main colour to palette";
export const madeOf = "Made of";
export const dragAMemberOntoAnotherFamily = "Drag a member onto another family to move it there. The underlined one stands for the family.";
export const unlock = "unlock";
export const lockLow = "lock";
export const targetLow = "target";
export const hueLow = "hue";
export const saturationLow = "saturation";
export const lightnessLow = "lightness";

// FamilyList
export const nameOfTheFamily = "Name of the family";
export const someBoards = " · some boards";
export const unlockPart = (part: Said) => `Unlock ${part}`;
export const lockPartNotOneByteOf = (part: Said) => `Lock ${part}: not one byte of it changes`;
export const coloursCounted = (colours: number) => (colours === 1 ? "1 colour" : `${colours} colours`);
export const thingsCounted = (things: number) => (things === 1 ? "1 thing" : `${things} things`);

// Lock
export const locked = "Locked";
export const lock = "Lock";

// families
export const picked = "Picked";
