import type { Said } from "./said";

/* The words of copies, in the order of the files they stand in. */

// CopyBox
export const copy = "Copy";
export const fromAnotherPicture = "From another picture";
export const copyOfOriginal = (original: Said) => `Copy of ${original}`;
export const dragThePicture = "Drag the picture";
export const moveItOnThePicture = "Move it on the picture";
export const flip = "Flip";
export const across = "Across";
export const down = "Down";
export const size = "Size";
export const turned = "Turned";
export const litFromTheOtherSide = "Lit from the other side";
export const furtherBack = "Further back";
export const furtherToTheFront = "Further to the front";
export const beforeAllOtherParts = "Before all other parts.";
export const andFrontMore = (front: Said) => ` and ${front} more`;
export const behindFrontMore = (front: Said, more: Said) => `Behind ${front}${more}.`;
export const itsShadow = "Its shadow";
export const noShadow = "no shadow";
export const throwsAShadow = "Throws a shadow";
export const fallsTo = "Falls to";
export const length = "Length";
export const softness = "Softness";
export const strength = "Strength";
export const colour = "Colour";
export const colourOfTheShadow = "Colour of the shadow";
export const black = "black";
export const colourOfTheShadowLow = "colour of the shadow";
export const aPart = "a part";
export const flipLow = "flip";
export const light = "light";
export const shadow = "shadow";
export const copySetting = (label: string) => `copy: ${label.toLowerCase()}`;

// copies
export const nameCopy = (name: Said) => `${name}, copy`;

// useCopy
export const nameHasNothingInItYet = (name: Said) => `${name} has nothing in it yet. Select something first.`;
export const aCopyOfName = (name: Said) => `a copy of ${name}`;
export const moveACopy = "move a copy";
export const turnACopy = "turn a copy";
export const scaleACopy = "scale a copy";
export const aCopyFurtherToTheFront = "a copy further to the front";
export const aCopyFurtherBack = "a copy further back";
