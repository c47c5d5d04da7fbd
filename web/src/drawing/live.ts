import type { FamilyColours } from "../api/client";

/** How much of each pixel of a view is painted in each of some colours, kept for the pixels where it is any. */
export class Shares {
  private readonly index: Map<string, number>;
  private readonly at: Int32Array; // pixels
  private readonly start: Int32Array; // of each, where its shares begin
  private readonly who: Uint8Array; // whose share: the colour's index
  private readonly share: Uint8Array;

  /** The sheet has, for each three colours from the top down, the view with their shares as red, green and blue. */
  constructor(sheet: ImageData, colours: string[], n: number) {
    this.index = new Map(colours.map((c, k) => [c, k]));
    const { data } = sheet;
    const place = (k: number, i: number) => 4 * (n * Math.floor(k / 3) + i) + (k % 3);
    let pixels = 0;
    let all = 0;
    for (let i = 0; i < n; i++) {
      const had = all;
      for (let k = 0; k < colours.length; k++) if (data[place(k, i)]) all++;
      if (all > had) pixels++;
    }
    this.at = new Int32Array(pixels);
    this.start = new Int32Array(pixels + 1);
    this.who = new Uint8Array(all);
    this.share = new Uint8Array(all);
    for (let i = 0, p = 0, m = 0; i < n; i++) {
      const had = m;
      for (let k = 0; k < colours.length; k++) {
        const v = data[place(k, i)] ?? 0;
        if (!v) continue;
        this.who[m] = k;
        this.share[m++] = v;
      }
      if (m > had) {
        this.at[p++] = i;
        this.start[p] = m;
      }
    }
  }

  /** Whether the change of a colour can be told from the shares. */
  has(colour: string) {
    return this.index.has(colour);
  }

  /** Makes a change of colours to pixels of the view, opaque RGBA each, and leaves those without a share of any. */
  apply(changes: Changes, from: Int32Array, to: Int32Array) {
    const by = new Int32Array(3 * this.index.size);
    for (const [colour, change] of changes) by.set(change, 3 * (this.index.get(colour) ?? 0));
    const { at, start, who, share } = this;
    for (let p = 0, m = 0; p < at.length; p++) {
      const i = at[p] as number;
      const was = from[i] as number;
      let r = 255 * (was & 255) + 127;
      let g = 255 * ((was >> 8) & 255) + 127;
      let b = 255 * ((was >> 16) & 255) + 127;
      for (const end = start[p + 1] as number; m < end; m++) {
        const k = 3 * (who[m] as number);
        const v = share[m] as number;
        r += v * (by[k] as number);
        g += v * (by[k + 1] as number);
        b += v * (by[k + 2] as number);
      }
      to[i] = 0xff000000 | (coded(b) << 16) | (coded(g) << 8) | coded(r);
    }
  }
}

/** A coded value of its 255ths. */
const coded = (v: number) => (v <= 0 ? 0 : v >= 65025 ? 255 : (v + 1 + (v >> 8)) >> 8);

/** How colours change, in coded values. */
export type Changes = Map<string, readonly [number, number, number]>;

/** What changes of a family's colours from one state to another; undefined where it cannot be told in coded sRGB. */
export function changes(was: FamilyColours | undefined, is: FamilyColours | undefined): Changes | undefined {
  const out: Changes = new Map();
  const before = new Map(was?.from.map((c, i) => [c, was.to[i] ?? c]));
  const after = new Map(is?.from.map((c, i) => [c, is.to[i] ?? c]));
  for (const colour of new Set([...before.keys(), ...after.keys()])) {
    const [a, b] = [before.get(colour) ?? colour, after.get(colour) ?? colour];
    if (a === b) continue;
    if (!/^#[0-9a-f]{6}$/.test(a) || !/^#[0-9a-f]{6}$/.test(b)) return undefined;
    const [m, n] = [Number.parseInt(a.slice(1), 16), Number.parseInt(b.slice(1), 16)];
    out.set(colour, [(n >> 16) - (m >> 16), ((n >> 8) & 255) - ((m >> 8) & 255), (n & 255) - (m & 255)]);
  }
  return out;
}
