import type { Frame } from "./stageLayer";

/** A frame with exact pixels: of what it is apart from the place, and the size it was asked for with. */
export interface Exact {
  frame: Frame;
  of: string;
  size: { width: number; height: number };
}

interface Entry extends Exact {
  at: number;
}

/** How long a frame is remembered, in milliseconds: who goes back and forth between two looks does so within that. */
const longest = 60_000;

/**
 * The frames that were shown at rest lately, by what was asked for: who flips through colourways, or takes a step back, sees them again at
 * once. It holds so many pixels at most, but always the last frame, unless that is none; those that it lets go are closed.
 */
export class Seen {
  private readonly list = new Map<string, Entry>(); // the one that was shown longest ago first
  private pixels = 0;

  /** inUse tells which frames are still drawn, or drawn from: whoever does so closes those. */
  constructor(
    private readonly most: number,
    private readonly inUse: (f: Frame) => boolean,
  ) {}

  put(key: string, exact: Exact) {
    if (this.most === 0) return;
    this.drop(key);
    this.list.set(key, { ...exact, at: performance.now() });
    this.pixels += sizeOf(exact);
    for (const [old] of this.list) {
      if (this.pixels <= this.most || old === key) break;
      this.drop(old);
    }
  }

  /** Returns what is remembered under a key, as what was shown last. */
  get(key: string): Exact | undefined {
    const e = this.list.get(key);
    if (!e || performance.now() - e.at > longest) return undefined;
    this.list.delete(key);
    this.list.set(key, e);
    return e;
  }

  /** Returns what is remembered of something, wherever it lies. */
  of(of: string): Exact[] {
    return [...this.list.values()].filter((e) => e.of === of && performance.now() - e.at <= longest);
  }

  has(frame: Frame): boolean {
    return [...this.list.values()].some((e) => e.frame === frame);
  }

  clear() {
    for (const key of [...this.list.keys()]) this.drop(key);
  }

  private drop(key: string) {
    const e = this.list.get(key);
    if (!e) return;
    this.list.delete(key);
    this.pixels -= sizeOf(e);
    if (!this.inUse(e.frame)) e.frame.bitmap?.close();
  }
}

const sizeOf = ({ size }: Exact) => size.width * size.height;
