import type { Said } from "./said";

/* The words of the line to the server, and of what does not go through. */

export const theServerAnswered = (status: Said) => `the server answered ${status}`;
export const theServerDoesNotAnswer = "the server does not answer; your work is kept here until it does";
export const somebodyElseChangedTheJobMeanwhile = "somebody else changed the job meanwhile; bring the profile in again";
