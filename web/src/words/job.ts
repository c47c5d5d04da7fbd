import type { Said } from "./said";

/* The words of a job’s page: pictures, palette, matrix, deliveries, sheet, shelf, in the order of the files they stand in. */

// AcrossPage
export const matchAcrossPictures = "match across pictures";
export const theServerAnsweredStatus = (status: Said) => `the server answered ${status}`;
export const theJob = "The job";
export const acrossPictures = "Across pictures";
export const part = "Part";
export const colourway = "Colourway";
export const asSet = "As set";
export const matchAcrossPicturesHigh = "Match across pictures";
export const noPartHasBeenIsolatedYet = "No part has been isolated yet.";
export const rowIsInOnePictureOnly = (row: Said) => `“${row}” is in one picture only. Parts of the same name in several pictures are one part of the job.`;
export const measuringThePictures = "Measuring the pictures";
export const somePicturesCouldNotBeMeasured = "Some pictures could not be measured; open them to see why.";
export const differencesBetweenPictures = "Differences between pictures";
export const picture = "Picture";
export const litToneOfTheResult = "Lit tone of the result";
export const toTheOthers = "To the others";
export const theOddOneOut = "the odd one out";
export const lab = "Lab ";
export const ciede2000BetweenTheMedianLitTones = "CIEDE2000 between the median lit tones. Bringing in line puts the match point of each picture onto its lit tone, so that there the target is met; each is a step of its picture that undo takes back.";

// Deliveries
export const megabytes = (count: Said) => `${count} MB`;
export const kilobytes = (count: Said) => `${count} kB`;
export const cancel = "Cancel";
export const tryAgain = "Try again";
export const saveFile = "Save file";
export const renderingName = (name: Said) => `Rendering ${name}`;
export const deliveries = "Deliveries";
export const nothingDeliveredYet = "Nothing delivered yet.";
export const andFilesMoreTheZipHas = (files: Said) => `and ${files} more; the zip has them all.`;
export const doneOfFiles = (done: Said, files: Said) => `${done} of ${files} files`;
export const failedCounted = (failed: Said) => `, ${failed} failed`;
export const saveAllAsZip = "Save all as zip";
export const saveThoseAsZip = (done: Said) => `Save the ${done} as zip`;
export const minutesLeft = (minutes: Said) => `${minutes} min left`;
export const secondsLeft = (seconds: Said) => `${seconds} s left`;

// JobPage
export const dismiss = "Dismiss";
export const inTheJob = "in the job";
export const notTakenProblem = (problem: Said) => `Not taken: ${problem}.`;
export const sendingName = (name: Said) => `Sending ${name}`;
export const aColourByHand = "a colour by hand";
export const jobs = "Jobs";
export const sheet = "Sheet";
export const deliver = "Deliver";
export const nameOfTheJob = "Name of the job";
export const filesComingIn = "Files coming in";
export const letGoToBringThemIn = "Let go to bring them in";
export const dropPhotosAndDrawingsAnywhere = "Drop photos and drawings anywhere";
export const chooseFiles = "Choose files";
export const fromThePictureShelf = "From the picture shelf";
export const jpegPngWebpTiffSvgPdf = "JPEG, PNG, WebP, TIFF; SVG, PDF, EPS";
export const picturesCounted = (pictures: number) => (pictures === 1 ? "1 picture" : `${pictures} pictures`);
export const partsCounted = (parts: number) => (parts === 1 ? "1 part" : `${parts} parts`);
export const waiting = "waiting";
export const reading = "reading";
export const saving = "saving";

// Matrix
export const newColourway = "new colourway";
export const duplicateColourway = "duplicate colourway";
export const nameCopy = (name: Said) => `${name} copy`;
export const moveColourway = "move colourway";
export const colourways = "Colourways";
export const newColourwayHigh = "New colourway";
export const partsThatAreIsolatedInThe = "Parts that are isolated in the pictures become its rows.";
export const dragAColourOntoACell = "Drag a colour onto a cell or a whole column. In a cell, 1 to 9 takes a colour, L leaves it, Delete clears it.";
export const theMatrixWhichScrolls = "The matrix, which scrolls";
export const matrixOfPartsAndColourways = "Matrix of parts and colourways";
export const inHowManyPictures = "in how many pictures";
export const nameOfName = (name: Said) => `Name of ${name}`;
export const renameColourway = "rename colourway";
export const moreForName = (name: Said) => `More for ${name}`;
export const duplicate = "Duplicate";
export const moveLeft = "Move left";
export const moveRight = "Move right";
export const deleteColourway = "delete colourway";
export const onlyInPicture = (find: Said) => `only in ${find}`;
export const asSetLow = "as set";
export const rowInName = (row: Said, name: Said) => `${row} in ${name}`;
export const rowInNameSay = (row: Said, name: Said, say: Said) => `${row} in ${name}: ${say}`;
export const leaveAsItIs = "leave as it is";
export const clearACell = "clear a cell";
export const ownMethod = "own method";

// OrderDialog
export const png8Bit = "PNG, 8 bit";
export const webp = "WebP";
export const tiff8Bit = "TIFF, 8 bit";
export const openrasterALayerForEachPart = "OpenRaster, a layer for each part";
export const masksOneGreyPngAPart = "Masks, one grey PNG a part";
export const svgOfDrawings = "SVG, of drawings";
export const pdfOfDrawings = "PDF, of drawings";
export const pictures = "Pictures";
export const allOfThem = "All of them";
export const masksAreTheSameInEvery = "Masks are the same in every colourway.";
export const format = "Format";
export const chroma = "Chroma";
export const chromaSampling = "Chroma sampling";
export const n4EveryPixel = "4:4:4, every pixel";
export const n420SmallerFiles = "4:2:0, smaller files";
export const longSide = "Long side";
export const longSideInPixels = "Long side in pixels";
export const fullSize = "full size";
export const profile = "Profile";
export const thePicturesOwn = "the picture’s own";
export const srgb = "sRGB";
export const displayP3 = "Display P3";
export const cmykTheJobHasNoInk = "CMYK: the job has no ink profile";
export const metadata = "Metadata";
export const keep = "keep";
export const keepWithoutThePlace = "keep, without the place";
export const drop = "drop";
export const names = "Names";
export const patternOfTheNames = "Pattern of the names";
export const pictureColourwayAndNumberAreFilled = "{picture}, {colourway} and {number} are filled in";
export const quality = "Quality";
export const notDeliveredForPracticeOnlyBy = "Not delivered, for practice only by their licence: ";
export const close = "Close";
export const renderFiles = (files: number) => (files === 1 ? "Render 1 file" : `Render ${files} files`);
export const cmykThrough = (inks: Said) => `CMYK, ${inks}`;
export const onePicture = "1 picture";

// PalettePane
export const coloursOfFile = (file: Said) => `colours of ${file}`;
export const nothingOfItWasTaken = (file: Said, e: Said) => `${file}: ${e}. Nothing of it was taken.`;
export const coloursOfName = (name: Said) => `colours of ${name}`;
export const palette = "Palette";
export const dragOntoACellOrA = "drag onto a cell or a column";
export const noColoursYet = "No colours yet.";
export const uncalibratedCmyk = "uncalibrated CMYK";
export const hardlyDiffersFromNear = (near: Said) => `hardly differs from ${near}`;
export const editName = (name: Said) => `Edit ${name}`;
export const edit = "Edit";
export const name = "Name";
export const nameOfTheColour = "Name of the colour";
export const colour = "Colour";
export const n1d6a72LabCmyk = "#1d6a72, lab(), cmyk()";
export const tolerance = "Tolerance";
export const toleranceCiede2000 = "Tolerance, CIEDE2000";
export const deleteColour = "delete colour";
export const deleteIt = "Delete";
export const usedInAChangeIsAChange = (id: Said) => `Used in ${id}: a change is a change there too.`;
export const newColour = "New colour";
export const fromAFile = "From a file";
export const measure = "Measure";
export const fromTheFirstPicture = "From the first picture";
export const saveAs = "Save as ";
export const designTokens = "Design Tokens";
export const cssProperties = "CSS properties";
export const cmykIsReadThroughInks = (inks: Said) => `CMYK is read through ${inks}.`;
export const noInkProfile = "no ink profile";
export const without = "Without";
export const inkProfileForCmyk = "Ink profile for CMYK";
export const putIntoThePalette = "Put into the palette";
export const measuredName = (name: Said) => `measured ${name}`;
export const renameColour = "rename colour";
export const changeColour = "change colour";
export const toleranceLow = "tolerance";

// Pictures
export const noPartsYet = "no parts yet";
export const removedIsRemoved = (removed: Said) => `“${removed}” is removed. `;
export const bringItBack = "Bring it back";
export const nameOfThePicture = "Name of the picture";
export const rename = "Rename";
export const moveEarlier = "Move earlier";
export const moveLater = "Move later";
export const remove = "Remove";
export const removedPicturesTrash = (trash: Said) => `Removed pictures, ${trash}`;
export const theyCanBeBroughtBackHere = "They can be brought back here for 30 days.";
export const removedPictures = "Removed pictures";
export const bringNameBack = (name: Said) => `Bring ${name} back`;
export const bringBack = "Bring back";

// SheetPage
export const pictureAsItCameIn = (picture: Said) => `${picture} as it came in`;
export const before = "Before";
export const openTitle = (title: Said) => `Open ${title}`;
export const isOutside = (off: Said) => `${off} is outside`;
export const partsOutside = (off: Said) => `${off} parts outside`;
export const markOfTitle = (title: Said) => `Mark of ${title}`;
export const markName = (name: Said) => `mark ${name}`;
export const open = "Open";
export const chosen = "Chosen";
export const dropped = "Dropped";
export const pair = "Pair";
export const targetWantResultGot = (want: Said, got: Said) => `target ${want}, result ${got}, `;
export const deltaEOfTolerance = (litMedian: Said, tolerance: Said) => `ΔE ${litMedian} of ${tolerance}`;
export const remarkOnName = (name: Said) => `Remark on ${name}`;
export const aRemark = "A remark";
export const theJobCannotBeOpened = "The job cannot be opened.";
export const openingTheSheet = "Opening the sheet";
export const closeThePair = "Close the pair";
export const preparing = "Preparing";
export const printOrSaveAsPdf = "Print or save as PDF";
export const whatTheSheetShows = "What the sheet shows";
export const colourwaysOfAPicture = "Colourways of a picture";
export const picturesOfAColourway = "Pictures of a colourway";
export const noColourwayYetThereIsOnly = "No colourway yet: there is only the picture as it is set.";
export const colourwaysOfPicture = (picture: Said) => `Colourways of ${picture}`;
export const picturesOfName = (name: Said) => `Pictures of ${name}`;
export const dateAndTerms = (toLocaleDateString: Said) => ` · ${toLocaleDateString} · CIEDE2000, D50`;
export const remark = "remark";

// ShelfDialog
export const theWholeLicence = "The whole licence";
export const pictureShelf = "Picture shelf";
export const searchTheShelf = "Search the shelf";
export const searchAThingAColourAn = "Search: a thing, a colour, an author";
export const lookingAtTheShelf = "Looking at the shelf";
export const nothingOnTheShelfHasAll = "Nothing on the shelf has all of these words.";
export const picturesOnTheShelf = "Pictures on the shelf";
export const chooseAPictureToSeeWhose = "Choose a picture to see whose it is and what may be done with it.";
export const takingIt = "Taking it";
export const takeItIntoTheJob = "Take it into the job";

// useUploads
export const theServerDoesNotAnswerNothing = "the server does not answer; nothing was stored. Try again once it does";
