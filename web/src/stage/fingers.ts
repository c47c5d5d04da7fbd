/** How two fingers moved since they were last asked about: by how much their middle went, and how much farther apart they are. */
export interface Pinch {
  x: number;
  y: number;
  dx: number;
  dy: number;
  apart: number;
}

/** The fingers on a surface, in its pixels. From the second on they move what is shown, and draw nothing until all are lifted. */
export class Fingers {
  private at = new Map<number, { x: number; y: number }>();
  pinching = false;

  down(id: number, x: number, y: number): boolean {
    this.at.set(id, { x, y });
    this.pinching ||= this.at.size === 2;
    return this.pinching;
  }

  move(id: number, x: number, y: number): Pinch | undefined {
    const was = this.measure();
    if (!this.at.has(id)) return undefined;
    this.at.set(id, { x, y });
    const now = this.measure();
    if (!was || !now) return undefined;
    return { x: now.x, y: now.y, dx: now.x - was.x, dy: now.y - was.y, apart: now.apart / Math.max(was.apart, 1) };
  }

  /** Says whether the finger was one of those that moved what is shown. */
  up(id: number): boolean {
    const was = this.pinching && this.at.has(id);
    this.at.delete(id);
    if (this.at.size === 0) this.pinching = false;
    return was;
  }

  private measure() {
    const [a, b] = [...this.at.values()];
    return a && b && { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.hypot(a.x - b.x, a.y - b.y) };
  }
}
