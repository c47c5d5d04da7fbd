import type { Said } from "./said";

/* The words of what stands on every page, in the order of the files they stand in. */

// Disc
export const withinTolerance = "within tolerance";
export const outsideTolerance = "outside tolerance";
export const cannotBeReachedInThisGamut = "cannot be reached in this gamut";
export const leftAsItIs = "left as it is";
export const notMeasuredYet = "not measured yet";

// MenuList
export const more = "More";

// Mishap
export const thisPageCannotGoOn = "This page cannot go on";
export const aPartOfItCouldNot = "A part of it could not be fetched, or something in it broke. Your edits are kept; load it again.";
export const loadAgain = "Load again";

// NotHere
export const nothingHere = "Nothing here";
export const thereIsNoSuchPage = "There is no such page";
export const thisWhatIsNotHere = (what: Said) => `This ${what} is not here`;
export const theAddressLeadsNowherePerhapsA = "The address leads nowhere; perhaps a letter is missing in it.";
export const itWasDeletedOrTheAddress = "It was deleted, or the address is not whole. A deleted job waits in the trash of the jobs’ page for thirty days.";
export const itWasTakenOutOfIts = "It was taken out of its job, or the address is not whole.";
export const allJobs = "All jobs";

// Trail
export const episema = " Episema";
export const whereYouAre = "Where you are";

// UndoRedo
export const undo = "Undo";
export const redo = "Redo";

// Unstored
export const stuckEdits = (edits: number) => `A picture was changed elsewhere while you worked on it: ${edits === 1 ? "1 edit waits" : `${edits} edits wait`} until you open it and say whose stay. Orders are without ${edits === 1 ? "it" : "them"}.`;
export const unstoredEdits = (edits: number) => `${edits === 1 ? "1 edit is not stored yet. It is" : `${edits} edits are not stored yet. They are`} kept here and sent again until the server answers; orders wait for ${edits === 1 ? "it" : "them"}.`;

// Where
export const notSavedYet = "not saved yet";
export const saved = "saved";
export const saving = "saving";

// controls
export const labelTyped = (label: Said) => `${label}, typed`;

// useTitle
export const nameEpisema = (name: Said) => `${name} · Episema`;
export const episemaHigh = "Episema";
