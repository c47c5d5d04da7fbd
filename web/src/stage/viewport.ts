import type { Pinch } from "./fingers";

/** Where what is shown lies on a stage: its left upper corner, and how many pixels of the stage one of its own is. */
export interface Placement {
  zoom: number;
  left: number;
  top: number;
}

export interface Size {
  width: number;
  height: number;
}

/** A rectangle of what is shown, in its own pixels or units. */
export interface Box extends Size {
  x: number;
  y: number;
}

/** Places what is shown on a stage: fitted, panned, zoomed. It knows nothing of how it is drawn. */
export class Viewport {
  at: Placement = { zoom: 0, left: 0, top: 0 };
  /** All of it is shown, also when the stage gets another size. */
  fitted = true;

  /**
   * what is all that is shown; most and least bound the zoom; with whole, corners lie on whole pixels, so that pixels of the same size fall
   * on each other. moved is called whenever it lies elsewhere.
   */
  constructor(
    private readonly what: () => Box,
    private readonly bounds: { least: number; most: number; whole?: boolean },
    private readonly moved: (at: Placement) => void,
  ) {}

  /** Shows a box in the middle of a stage, as large as it goes with a margin around, or at most at a zoom. */
  show(box: Box, stage: Size, margin: number, most = Infinity) {
    this.put(this.showing(box, stage, margin, most), false);
  }

  /** Shows all of it, and from then on. */
  fit(stage: Size, margin: number, most = Infinity) {
    this.put(this.showing(this.what(), stage, margin, most), true);
  }

  /** Where it lies when a box is shown. */
  private showing(box: Box, stage: Size, margin: number, most: number): Placement {
    const { x, y } = this.what();
    const zoom = Math.max(1e-4, Math.min((stage.width - 2 * margin) / box.width, (stage.height - 2 * margin) / box.height, most));
    return { zoom, left: (stage.width - box.width * zoom) / 2 - (box.x - x) * zoom, top: (stage.height - box.height * zoom) / 2 - (box.y - y) * zoom };
  }

  /** Sets the zoom; what lies at a place of the stage stays there. */
  zoomAt(zoom: number, x: number, y: number) {
    this.move(0, 0, zoom, x, y);
  }

  panBy(dx: number, dy: number) {
    this.move(dx, dy, this.at.zoom, 0, 0);
  }

  /** Follows two fingers. */
  pinch(p: Pinch) {
    this.move(p.dx, p.dy, this.at.zoom * p.apart, p.x, p.y);
  }

  /** Pans, and then zooms around a place; before anything was shown there is nothing to move. */
  private move(dx: number, dy: number, zoom: number, x: number, y: number) {
    if (this.at.zoom === 0) return;
    const z = Math.max(this.bounds.least, Math.min(this.bounds.most, zoom));
    const k = z / this.at.zoom;
    this.put({ zoom: z, left: x - (x - this.at.left - dx) * k, top: y - (y - this.at.top - dy) * k }, false);
  }

  /** Brings a place of what is shown to the middle. */
  centre(px: number, py: number, stage: Size, zoom = this.at.zoom) {
    const { x, y } = this.what();
    this.put({ zoom, left: stage.width / 2 - (px - x) * zoom, top: stage.height / 2 - (py - y) * zoom }, false);
  }

  private put(next: Placement, fitted: boolean) {
    this.fitted = fitted;
    this.at = this.bounds.whole ? { zoom: next.zoom, left: Math.round(next.left), top: Math.round(next.top) } : next;
    this.moved(this.at);
  }
}
