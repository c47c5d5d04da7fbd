import type { Viewport } from "./viewport";

/** How far a pointer goes, in pixels of the page, before what was a click is a drag. */
export const stillWithin = 5;

/** A hand that moves what a stage shows; unit is how many pixels of the viewport one of the page is. */
export class Pan {
  readonly alt = false;
  constructor(
    private readonly port: Viewport,
    private last: { clientX: number; clientY: number },
    private readonly unit: number,
  ) {}
  move(e: { clientX: number; clientY: number }) {
    this.port.panBy((e.clientX - this.last.clientX) * this.unit, (e.clientY - this.last.clientY) * this.unit);
    this.last = { clientX: e.clientX, clientY: e.clientY };
  }
  end() {}
}
