/** How far a press of an arrow goes, in pixels of the page: plain, and with Shift. */
const stride = { plain: 10, fine: 1, pan: 60 };

const directions: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** What the tool at hand does with the pointer. */
export type Does = "moves the picture" | "draws" | "clicks";

/**
 * The pointer of the stage for hands without one: arrows move it, Enter presses and lifts the tool (or clicks, where the tool
 * clicks), Escape breaks a stroke off. It speaks to the canvas in pointer events, so that all that a mouse can do goes the same way.
 */
export class KeyCursor {
  /** In pixels of the page from the canvas's corner; undefined while a mouse or pen leads. */
  at: { x: number; y: number } | undefined;
  private down = false;
  private clicked = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly pan: (dx: number, dy: number) => void,
  ) {}

  get pressing() {
    return this.down;
  }

  /** A real pointer leads now. */
  leave() {
    this.at = undefined;
  }

  /** Does what a key means; says whether it means anything. */
  key(e: KeyboardEvent, does: Does): boolean {
    const by = directions[e.key];
    if (by && (does === "moves the picture" || e.ctrlKey || e.metaKey)) {
      const far = e.shiftKey ? stride.plain : stride.pan;
      this.pan(-by[0] * far, -by[1] * far);
      return true;
    }
    if (does === "moves the picture") return false;
    if (by) {
      this.move(by, e.shiftKey ? stride.fine : stride.plain);
      return true;
    }
    if (e.key === "Escape" && this.down) {
      this.send("pointercancel", e);
      this.down = false;
      return true;
    }
    if (e.key !== "Enter" || e.repeat) return e.key === "Enter";
    if (!this.at) {
      this.move([0, 0], 0);
      return true; // it shows where it is first
    }
    if (does === "draws") {
      this.down = !this.down;
      this.send(this.down ? "pointerdown" : "pointerup", e);
    } else if (this.clicked) {
      return false; // once more at the same place ends what is being made
    } else {
      this.send("pointerdown", e);
      this.send("pointerup", e);
      this.clicked = true;
    }
    return true;
  }

  private move([dx, dy]: [number, number], far: number) {
    this.clicked = false;
    const { clientWidth: w, clientHeight: h } = this.canvas;
    const from = this.at ?? { x: w / 2, y: h / 2 };
    const to = { x: from.x + dx * far, y: from.y + dy * far };
    // Where it would leave the stage, the picture comes to meet it.
    const margin = 24;
    const kept = { x: Math.max(margin, Math.min(w - margin, to.x)), y: Math.max(margin, Math.min(h - margin, to.y)) };
    if (!this.down && (kept.x !== to.x || kept.y !== to.y)) this.pan(kept.x - to.x, kept.y - to.y);
    this.at = kept;
    this.send("pointermove");
  }

  private send(type: string, keys?: { altKey: boolean; shiftKey: boolean }) {
    if (!this.at) return;
    const box = this.canvas.getBoundingClientRect();
    const button = type === "pointermove" ? -1 : 0;
    const e = new PointerEvent(type, { bubbles: true, cancelable: true, pointerId: fromKeys, pointerType: "mouse", clientX: box.left + this.at.x, clientY: box.top + this.at.y, button, buttons: this.down ? 1 : 0, altKey: keys?.altKey, shiftKey: keys?.shiftKey });
    this.canvas.dispatchEvent(e);
  }
}

/** The id of the pointer that keys move; no real one has it. */
export const fromKeys = -7;
