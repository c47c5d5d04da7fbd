import type { Said } from "./said";

/* The words of patterns, in the order of the files they stand in. */

// PatternBox
export const patternFromAPicture = "pattern from a picture";
export const noPattern = "no pattern";
export const patternOfTile = (tile: Said) => `pattern of ${tile}`;
export const pattern = "Pattern";
export const none = "None";
export const stripes = "Stripes";
export const dots = "Dots";
export const checks = "Checks";
export const zigzag = "Zigzag";
export const drawn = "Drawn";
export const takingItApart = "Taking it apart";
export const fromAPicture = "From a picture";
export const byHand = "By hand";
export const patternDrawnByHand = "pattern drawn by hand";
export const colours = "Colours";
export const colourOfThePatternAtHand = "Colour of the pattern at hand";
export const anotherColourOfThePattern = "another colour of the pattern";
export const oneMore = "One more";
export const oneColourLess = "one colour less";
export const takeOut = "Take out";
export const paletteForThePattern = "Palette, for the pattern";
export const nameForThePattern = (name: Said) => `${name}, for the pattern`;
export const patternInName = (name: Said) => `pattern in ${name}`;
export const itsColour = "Its colour";
export const colourAtOfThePattern = (at: Said) => `Colour ${at} of the pattern`;
export const f2ece0 = "#f2ece0";
export const colourOfThePattern = "colour of the pattern";
export const figures = "Figures";
export const repeat = "Repeat";
export const turned = "Turned";
export const folds = "Folds";
export const foldsLean = "Folds lean";
export const patternStrength = "Pattern strength";
export const howItRepeats = "How it repeats";
export const repeatV = (v: Said) => `repeat ${v}`;
export const straight = "Straight";
export const halfDrop = "Half-drop";
export const brick = "Brick";
export const mirrored = "Mirrored";
export const howItIsMade = "How it is made";
export const wovenIn = "Woven in";
export const printedOver = "Printed over";
export const patternInPerspective = "pattern in perspective";
export const patternFromTheFront = "pattern from the front";
export const inPerspectiveByTheCornersOf = "In perspective, by the corners of a square";
export const patternOnAGrid = "pattern on a grid";
export const patternWithoutItsGrid = "pattern without its grid";
export const bentByAGridOfNodes = "Bent by a grid of nodes";
export const round = "Round";
export const fromAbove = "From above";
export const dragThePicture = "Drag the picture";
export const moveItOnThePicture = "Move it on the picture";
export const dragWhatMustGoAlong = "Drag what must go along";
export const pushItByHand = "Push it by hand";
export const pushesTakenBack = "pushes taken back";
export const takeBack = "Take back ";
export const thePush = "the push";
export const allPushes = (pushes: Said) => `all ${pushes} pushes`;
export const printed = "printed";
export const woven = "woven";
export const patternSetting = (label: string) => `pattern: ${label.toLowerCase()}`;

// TileDialog
export const drawATile = "Draw a tile";
export const theTileWhichRepeatsArrowKeys = "The tile, which repeats. Arrow keys move, the space bar begins and ends a stroke.";
export const whatIsDrawn = "What is drawn";
export const drawWithColourNumber = (number: Said) => `Draw with colour ${number}`;
export const rubOut = "Rub out";
export const theDashedSquareIsOneRepeat = "The dashed square is one repeat. Its colours can be changed afterwards, in every colourway.";
export const lastStrokeBack = "Last stroke back";
export const beginAnew = "Begin anew";
export const tipOfARepeat = "Tip, of a repeat";
export const layingItOn = "Laying it on";
export const layItOn = "Lay it on";
export const close = "Close";

// usePattern
export const howThePattern = (how: Said) => `${how} the pattern`;
export const aNodeOfThePattern = "a node of the pattern";
export const aCornerOfThePattern = "a corner of the pattern";
