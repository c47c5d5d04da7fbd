import type { Said } from "./said";

/* The words of patches, in the order of the files they stand in. */

// PatchBox
export const theOpenPatch = "The open patch";
export const nothingAroundItCanBeAn = "Nothing around it can be an example, so it covers nothing yet. Draw around less, or drag from inside the outline to what shall cover it.";
export const filledByWhatGoesOnAround = "Filled by what goes on around it. Drag from inside the outline to cover it from one place instead.";
export const dragFromInsideTheOutlineTo = "Drag from inside the outline to what shall cover it.";
export const nodesCanBeMovedBentAnd = " Nodes can be moved, bent and taken out.";
export const looking = "Looking";
export const anotherCoverAtOfList = (at: Said, list: Said) => `Another cover, ${at} of ${list}`;
export const findACover = "Find a cover";
export const anotherFillingFillOfFillings = (fill: Said, fillings: Said) => `Another filling, ${fill} of ${fillings}`;
export const fillByExample = "Fill by example";
export const itStandsNearByAndHas = "It stands near by and has something in it that will be seen twice.";
export const across = "Across";
export const down = "Down";
export const turn = "Turn";
export const enlarge = "Enlarge";
export const feather = "Feather";
export const patchSeamless = "patch seamless";
export const patchAsItIs = "patch as it is";
export const seamlessTakesTheLightAroundIt = "Seamless: takes the light around it";
export const flipAPatch = "flip a patch";
export const flipped = "Flipped";
export const patchSetting = (label: string) => `patch: ${label.toLowerCase()}`;
