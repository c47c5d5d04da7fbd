/** An Oklch colour in the percentages of CSS Color 4: lightness 0 to 100, chroma in percent of 0.4, hue in degrees. */
export interface Polar {
  l: number;
  c: number;
  h: number;
}

/** The chroma at the right edge of a plane, in percent; the server draws planes to the same. */
export const planeChroma = 85;

const within = (v: number, lo: number, hi: number) => Math.max(lo, Math.min(hi, v));
const short = (v: number) => String(Number(v.toFixed(2)));

export function cssOf(p: Polar): string {
  return `oklch(${short(p.l)}% ${short(p.c)}% ${short(p.h)})`;
}

/** Reads what the server says of a colour: lightness 0 to 1, chroma, degrees. A grey keeps the hue that was set before. */
export function polarOf(oklch: number[], before?: Polar): Polar {
  const [l = 0, c = 0, h = 0] = oklch;
  return { l: 100 * l, c: 250 * c, h: 250 * c < 0.06 && before ? before.h : h };
}

/** The colour at a place of a plane, as shares of its width and height from its left upper corner. */
export function at(plane: Polar, x: number, y: number): Polar {
  return { ...plane, l: within(100 * (1 - y), 0, 100), c: within(planeChroma * x, 0, planeChroma) };
}

/** What a key does to a colour on the plane; undefined where it does nothing. Shift goes ten times as far. */
export function byKey(p: Polar, key: string, shift: boolean): Polar | undefined {
  const by = shift ? 10 : 1;
  switch (key) {
    case "ArrowUp": return { ...p, l: within(p.l + by, 0, 100) };
    case "ArrowDown": return { ...p, l: within(p.l - by, 0, 100) };
    case "ArrowRight": return { ...p, c: within(p.c + by, 0, planeChroma) };
    case "ArrowLeft": return { ...p, c: within(p.c - by, 0, planeChroma) };
  }
  return undefined;
}

/** Colours that stand to this one by an angle of hue: what is beside it, thirds, and across. */
export function harmonies(p: Polar): { name: string; css: string }[] {
  return [["−30°", -30], ["+30°", 30], ["+120°", 120], ["−120°", -120], ["+180°", 180]].map(([name, by]) => ({
    name: name as string,
    css: cssOf({ ...p, h: (p.h + (by as number) + 360) % 360 }),
  }));
}
