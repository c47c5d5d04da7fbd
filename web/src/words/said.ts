/** Said is what can stand inside a sentence. */
export type Said = string | number;
