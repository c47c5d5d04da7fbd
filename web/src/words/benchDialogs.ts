import type { Said } from "./said";

/* The words of the dialogs that the bench opens. */

// CarryDialog
export const anotherPicture = "another picture";
export const fromAnotherPicture = "From another picture";
export const likeColoursHuesTonesAndSubject = "Like colours, hues, tones and Subject mean something in this picture too; their joins, targets and settings come along. Strokes and outlines stay where they are.";
export const noOtherPictureOfThisJob = "No other picture of this job has parts yet.";
export const fromWhichPicture = "From which picture";
export const nothingOfFromCanBeCopied = (from: Said) => `Nothing of ${from} can be copied: its parts are made of strokes and outlines alone.`;
export const leftOutCounted = (left: Said) => `, ${left} left out`;
export const orSetOneOfItsThings = "Or set one of its things in";
export const itIsCutOutWithIts = "It is cut out with its soft edge and stands here as a part of its own, to be moved, turned, scaled and coloured.";
export const setNameIn = (name: Said) => `Set ${name} in`;
export const close = "Close";
export const picksCounted = (picks: number) => (picks === 1 ? "1 pick" : `${picks} picks`);
export const addParts = (parts: number) => (parts === 1 ? "Add 1 part" : `Add ${parts} parts`);

// DeliverDialog
export const deliverPicture = (picture: Said) => `Deliver ${picture}`;
export const format = "Format";
export const whoseItIsStandsAtIts = " Whose it is stands at its beginning.";
export const onlyColoursDiffer = (more: Said) => `Only colours differ from the file as it came in: order, ids, groups and number formats stay byte for byte.${more}`;
export const onePageDrawnAsLinesAnd = "One page, drawn as lines and fills.";
export const longSide = "Long side ";
export const longSideInPixels = "Long side in pixels";
export const pixels = " pixels";
export const losslessBitsBitOutsideTheParts = (bits: Said) => `Lossless, ${bits} bit. Outside the parts bit for bit the picture as it came in; profile and metadata kept.`;
export const quality = "Quality";
export const outsideToleranceNamesItCanBe = (names: Said) => `Outside tolerance: ${names}. It can be delivered all the same.`;
export const itIsFromTheSourceFor = (source: Said) => `It is from the ${source}, for practice only: nothing made of it is delivered.`;
export const byAuthorLicenceTheFileSays = (author: Said, licence: Said, credit: Said) => `By ${author}, ${licence}. The file says so: ${credit}`;
export const renderAtFullSize = "Render at full size";
