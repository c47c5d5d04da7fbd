import type { Said } from "./said";

/* The words of the bench: its bars, its parts, its stage and what it says there, in the order of the files they stand in. */

// BenchKeys
export const whileWorkingTakeAwayOrWhat = "while working: take away, or what it is not";
export const swapAddingAndTakingAway = "swap adding and taking away";
export const straightStrokesOneMoreSample = "straight strokes; one more sample";
export const sizeWithLikeColoursTheTolerance = "size; with Like colours the tolerance";
export const sweepReachLessOrMoreAlso = "Sweep: reach less or more, also while drawing";
export const onceMoreTheNextOfWhat = "once more: the next of what Subject may mean";
export const brushKeepToEdgesOnAnd = "Brush: keep to edges, on and off";
export const checkTheEdgeAt100Step = "check the edge at 100 %, step by step; Shift N back";
export const holdThePictureAsItCame = "hold: the picture as it came in";
export const wipeSplitTheStageTheKnob = "wipe: split the stage; the knob moves the line, its ends turn it";
export const pairBeforeAndNowSideBy = "pair: before and now side by side";
export const blinkBetweenBeforeAndNow = "blink between before and now";
export const loupeWithBeforeAndNow = "loupe with before and now";
export const takeTheColourOfAPlace = "take the colour of a place; A: the match point";
export const mendingBrush = "mending brush";
export const patchCoverWhatMustGo = "patch: cover what must go";
export const holdAndDragMoveThePicture = "hold and drag: move the picture";
export const onTheStageMoveTheTool = "on the stage: move the tool, with Shift finely; with ctrl, or without a tool, the picture";
export const onTheStagePressTheTool = "on the stage: press the tool, and lift it again; twice closes an outline";
export const onASplitStageMoveIts = "on a split stage: move its line; with Shift turn it";
export const fitAnd100 = "fit, and 100 %";
export const zoomCtrlAndTheWheelZoom = "zoom; ctrl and the wheel zoom to the pointer";
export const isolateColourProof = "Isolate, Colour, Proof";
export const moveAPick = "move a pick";
export const undoWithShiftRedo = "undo; with Shift redo";
export const renameThePart = "rename the part";
export const theseKeys = "these keys";

// BenchPage
export const brushTheRebuildingAway = "brush the rebuilding away";
export const greyCard = "grey card";
export const matchPoint = "match point";
export const sampledColour = "sampled colour";
export const openingThePicture = "Opening the picture";
export const now = "Now";
export const partsAndTheirSettings = "Parts and their settings";
export const newPart = "new part";
export const newPartWithName = (name: Said) => `new part with ${name}`;
export const renamePart = "rename part";
export const leavePartForNow = "leave part for now";
export const paintPartAgain = "paint part again";
export const deletePart = "delete part";
export const newPartInsideName = (name: Said) => `new part inside ${name}`;
export const theRestOfName = (name: Said) => `the rest of ${name}`;
export const noOverlap = "no overlap";
export const mayOverlap = "may overlap";
export const facesOfThePart = "Faces of the part";
export const isolate = "Isolate";
export const colour = "Colour";
export const proof = "Proof";
export const picture = "picture";
export const partsOfFrom = (from: Said) => `parts of ${from}`;
export const thingOf = (here: Said, from: Said) => `${here} of ${from}`;

// Foot
export const lightGround = "Light ground";
export const middleGround = "Middle ground";
export const darkGround = "Dark ground";
export const chequeredGround = "Chequered ground";
export const whatTheStageShows = "What the stage shows";
export const pictureHigh = "Picture";
export const hatch = "Hatch";
export const tint = "Tint";
export const mask = "Mask";
export const changed = "Changed";
export const cutOut = "Cut-out";
export const theRest = "The rest";
export const cast = "Cast";
export const colourOfTheTint = "Colour of the tint";
export const strengthOfTheTintInPercent = "Strength of the tint in percent";
export const greyAroundThePicture = "Grey around the picture";
export const seenInInk = "Seen in ink";
export const inksOf = (inks: Said) => `Inks: ${inks}`;
export const theJobHasNoInkProfile = "The job has no ink profile; bring one in beside its palette";
export const onScreen = "On screen";
export const inInk = "In ink";
export const inInkNoProfile = "In ink: no profile";
export const inInkMarked = "In ink, marked";
export const inInkOnPaper = "In ink, on paper";
export const nearBy = (near: Said) => ` · near ${near}`;

// Hint
export const size = " size";
export const clickTheColourToTake = "Click the colour to take. ";
export const leavesIt = "leaves it.";
export const clickTheGreyCardOrSomething = "Click the grey card, or something else that is grey. ";
export const clickWhereTheTargetMustBe = "Click where the target must be met. ";
export const brushOverWhatToRemove = "Brush over what to remove. ";
export const alt = "Alt";
export const clickTakesAColour = " click takes a colour, ";
export const ends = "ends";
export const dragFromInsideTheOutlineTo = "Drag from inside the outline to what shall cover it. ";
export const closesThePatch = "closes the patch";
export const lookingForWhatCouldCoverIt = "Looking for what could cover it";
export const drawAroundWhatMustGo = "Draw around what must go. ";
export const dragToMoveThePattern = "Drag to move the pattern";
export const orItsCorners = ", or its corners";
export const orTheNodesOfItsGrid = ", or the nodes of its grid";
export const pushThePatternWhereItMust = "Push the pattern where it must go. ";
export const dragToMoveTheCopyIts = "Drag to move the copy, its corners to scale it, the point above it to turn it. ";
export const brushTheRebuildingAwayHigh = "Brush the rebuilding away. ";
export const edgeAtOfStops = (at: Said, stops: Said) => `Edge, ${at} of ${stops}. `;
export const goesOn = " goes on, ";
export const esc = "Esc";
export const shiftN = "Shift N";
export const back = " back, ";
export const nowAStrokeInsideTheThing = "Now a stroke inside the thing. ";
export const leavesTheRing = "leaves the ring";
export const drawOnOrClickForA = "Draw on, or click for a straight piece";
export const clickOnDragForACurve = "Click on; drag for a curve";
export const theFirstNodeClosesIt = ". The first node closes it, ";
export const drawAroundTheThingInOne = "Draw around the thing in one go; clicks make straight pieces";
export const hold = ". Hold ";
export const toTakeAway = " to take away, ";
export const dragTheBarToWipeHold = "Drag the bar to wipe. Hold ";
export const toSeeThePictureAsIt = " to see the picture as it came in.";

// Parts
export const parts = "Parts";
export const fromAPicture = "From a picture…";
export const newPartHigh = "New part";
export const withRecipe = "With recipe";
export const noneYetTheFirstStrokeMakes = "None yet. The first stroke makes one.";
export const nameOfThePart = "Name of the part";
export const copy = "copy · ";
export const toLitP95 = (litP95: Said) => ` to ${litP95}`;
export const deltaEOfTolerance = (litMedian: Said, more: Said, tolerance: Said) => `ΔE ${litMedian}${more} of ${tolerance}`;
export const leftAsItIs = "left as it is";
export const notMeasuredYet = "not measured yet";
export const mayOverlapLow = " · may overlap";
export const renamePartNamed = (part: Said) => `Rename ${part}`;
export const moreForPart = (part: Said) => `More for ${part}`;
export const newPartInsideIt = "New part inside it";
export const theRestOfItAsA = "The rest of it as a part";
export const setACopyBesideIt = "Set a copy beside it";
export const mayNotOverlapOtherParts = "May not overlap other parts";
export const mayOverlapOtherParts = "May overlap other parts";
export const deletePartNamed = (part: Said) => `Delete ${part}`;
export const paintPartAgainNamed = (part: Said) => `Paint ${part} again`;
export const leavePartAsItIsFor = (part: Said) => `Leave ${part} as it is for now`;

// Told
export const thisWhatWasChangedElsewhereWhile = (what: Said) => `This ${what} was changed elsewhere while you worked on it. Yours is not stored yet; nothing is lost.`;
export const keepMineTheirsAsAnUndo = "Keep mine, theirs as an undo step";
export const takeTheirs = "Take theirs";
export const theServerDoesNotAnswerYour = "The server does not answer. Your edits are kept here and stored as soon as it does.";
export const dismiss = "Dismiss";

// TopBar
export const compare = "Compare";
export const split = "Split";
export const pair = "Pair";
export const blink = "Blink";
export const against = "Against";
export const withBefore = "with before";
export const withAsSet = "with as set";
export const withName = (name: Said) => `with ${name}`;
export const loupe = "Loupe";

// figures
export const labOf = (v: Said) => `Lab ${v}`;

// parts
export const partNumber = (parts: Said) => `Part ${parts}`;
export const restOfName = (name: Said) => `Rest of ${name}`;

// Stage
export const stageThePictureAsItIs = "Stage: the picture as it is now. Arrows move the tool, Enter presses it";
export const asItCameIn = "As it came in";
export const before = "Before";

// StageOverlay
export const bendAnOutline = "bend an outline";
export const moveANode = "move a node";
export const removeANode = "remove a node";
export const sharpNode = "sharp node";
export const smoothNode = "smooth node";
export const whatThePickWasMadeFrom = "What the pick was made from";
export const addANode = "add a node";
export const handlePassed = "handle passed";
export const nodeOfRow = (number: Said, number2: Said) => `Node ${number} of row ${number2}`;
export const nodeNumberOfNodesMore = (number: Said, nodes: Said, more: Said) => `Node ${number} of ${nodes}, ${more}`;
export const cornerNumberOfTheCopy = (number: Said) => `Corner ${number} of the copy`;
export const turnsTheCopy = "Turns the copy";
export const handle = "handle";
export const smooth = "smooth";
export const corner = "corner";

// stageLayer
export const aboutExact = (exact: Said) => `about ${exact}`;
export const theServerAnsweredStatus = (status: Said) => `the server answered ${status}`;
export const theServerDoesNotAnswerWhat = "the server does not answer; what is shown may be old";
export const thisBrowserDrawsNoCanvas = "this browser draws no canvas";

// tools
export const movesThePicture = "moves the picture";
export const draws = "draws";

// useEdgeWalk
export const thisPartHasNoEdgeYet = "this part has no edge yet";

// useMend
export const mendingStroke = "mending stroke";
export const mendAPlace = "mend a place";
export const mendTheEdge = "mend the edge";

// useWays
export const asSet = "As set";

// useBenchKeys
export const tolerance = "tolerance";

// RecipeMenu
export const forWhatRecurs = "For what recurs";
export const ofThisJob = "Of this job";
export const recipesOfThisJob = "Recipes of this job…";

// usePattern
export const aCornerOfThePattern = "a corner of the pattern";
export const aNodeOfThePattern = "a node of the pattern";
export const howThePattern = (how: Said) => `${how} the pattern`;

// usePatch
export const anotherCover = "another cover";
export const filledByExample = "filled by example";
export const nothingWasFoundThatCouldCover = "Nothing was found that could cover this. Drag from inside the outline to what shall cover it.";
export const patch = "patch";
export const whereTheCoverComesFrom = "where the cover comes from";
