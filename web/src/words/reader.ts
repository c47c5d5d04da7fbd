import type { Said } from "./said";

/* The words of the reader, in the order of the files they stand in. */

// MeasureDialog
export const measured = "Measured";
export const measureASurface = "Measure a surface";
export const itLiesOn = "It lies on";
export const whatTheReaderLiesOn = "What the reader lies on";
export const askingTheReader = "Asking the reader";
export const lab = "Lab ";
export const meanOfEachReadingsD50And = (each: Said, spread: Said) => `Mean of ${each} readings, D50 and 2 degrees; they lie within ΔE ${spread} of it.`;
export const theReadingsLieFarApartClean = "The readings lie far apart. Clean the surface, press evenly, and measure again.";
export const name = "Name";
export const nameOfTheMeasuredColour = "Name of the measured colour";
export const measuring = "Measuring";
export const measureAgain = "Measure again";
export const takeThreeReadings = "Take three readings";
export const close = "Close";
