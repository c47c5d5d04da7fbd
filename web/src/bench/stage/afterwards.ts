// What is drawn under a hand: nothing of it is needed for the first frame.
export { drawCross, drawLoupe } from "./loupe";
export { drawMask } from "./quickMask";
