import type { Said } from "./said";

/* The words of the list of jobs, in the order of the files they stand in. */

// JobsPage
export const newJob = "New job";
export const openingTheBackupFile = "Opening the backup file";
export const openABackupFile = "Open a backup file";
export const jobs = "Jobs";
export const searchJobsByName = "Search jobs by name";
export const searchByName = "Search by name";
export const whichJobs = "Which jobs";
export const active = "Active";
export const archivedPut = (put: Said) => `Archived, ${put}`;
export const trashBinned = (binned: Said) => `Trash, ${binned}`;
export const deletedIsDeleted = (deleted: Said) => `“${deleted}” is deleted. `;
export const bringItBack = "Bring it back";
export const deletedJobsCanBeBroughtBack = "Deleted jobs can be brought back here for 30 days.";
export const noJobYetMakeOneThen = "No job yet. Make one, then drop photos into it.";
export const noJobIsCalledAnythingLike = (search: Said) => `No job is called anything like “${search}”.`;
export const noneHere = "None here.";
export const bringNameBack = (name: Said) => `Bring ${name} back`;
export const bringBack = "Bring back";
export const moreForName = (name: Said) => `More for ${name}`;
export const duplicate = "Duplicate";
export const nameCopy = (name: Said) => `${name} copy`;
export const saveABackupFile = "Save a backup file";
export const makeActive = "Make active";
export const archive = "Archive";
export const picturesCounted = (pictures: number) => (pictures === 1 ? "1 picture" : `${pictures} pictures`);
export const deleteIt = "Delete";
