import type { Said } from "./said";

/* The words of what the stages of photos and of drawings share, in the order of the files they stand in. */

// BarEnd
export const colourway = "Colourway";
export const asSet = "As set";
export const keys = "Keys";
export const deliver = "Deliver";

// KeysDialog
export const keysWithoutCtrlActAnywhereOn = "Keys without ctrl act anywhere on this page, not on the stage alone";

// ZoomButtons
export const zoom = "Zoom";
export const zoomOut = "Zoom out";
export const shownFitTheWhat = (shown: Said, what: Said) => `${shown} %, fit the ${what}`;
export const zoomIn = "Zoom in";
