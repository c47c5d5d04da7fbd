/** A CIELAB colour in whole numbers. */
export const lab = (v?: number[]) => (v ? `Lab ${v.map((n) => Math.round(n)).join(" ").replaceAll("-", "−")}` : "—");
