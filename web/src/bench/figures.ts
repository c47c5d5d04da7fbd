import * as words from "../words/bench";
/** A CIELAB colour in whole numbers. */
export const lab = (v?: number[]) => (v ? words.labOf(v.map((n) => Math.round(n)).join(" ").replaceAll("-", "−")) : "—");
