import type { Said } from "./said";

/* The words of recipes, in the order of the files they stand in. */

// RecipeLine
export const keepRecipeName = (name: Said) => `keep recipe ${name}`;
export const recipe = "Recipe";
export const nameOfTheRecipe = "Name of the recipe";
export const keep = "Keep";
export const notNow = "Not now";
export const putOneOn = "Put one on";
export const recipeName = (name: Said) => `recipe ${name}`;
export const keepThisOne = "Keep this one";

// RecipesDialog
export const recipesOfFile = (file: Said) => `recipes of ${file}`;
export const nothingOfItWasTaken = (file: Said, e: Said) => `${file}: ${e}. Nothing of it was taken.`;
export const renameRecipe = "rename recipe";
export const recipesOfThisJobHigh = "Recipes of this job";
export const noneOfItsOwnYetGive = "None of its own yet. Give a part a colour, then keep its recipe; or bring a file in.";
export const nameOfName = (name: Said) => `Name of ${name}`;
export const takeOutName = (name: Said) => `Take out ${name}`;
export const takeRecipeOut = "take recipe out";
export const takeOut = "Take out";
export const noColour = "no colour";
export const methodToCss = (method: Said, css: Said) => `${method} to ${css}`;
export const withAFinish = ", with a finish";
export const withItsCast = ", with its cast";
export const fromAFile = "From a file";
export const saveAsAFile = "Save as a file";
export const close = "Close";
