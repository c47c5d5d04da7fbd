/* The words of opening a picture, in the order of the files they stand in. */

// PicturePage
export const openingTheDrawing = "Opening the drawing";
export const openingThePicture = "Opening the picture";
