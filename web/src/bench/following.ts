import { startTransition } from "react";
import { isLate } from "../look/goesAhead";

/** How long a page that may follow late stays behind a hand that does not rest, in milliseconds. */
export const behind = 200;

/** Lets a page follow: at once, or, of what was done lately, to the newest once nothing else is waited for. */
export class Following {
  private next: (() => void) | undefined;
  private turn = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly quiet: () => Promise<void>) {}

  to(f: () => void) {
    if (!isLate()) {
      this.drop();
      f();
      return;
    }
    const waits = this.next !== undefined;
    this.next = f;
    if (waits) return;
    const mine = ++this.turn;
    const now = () => {
      const { next } = this;
      if (this.turn !== mine || !next) return;
      this.drop();
      startTransition(next);
    };
    this.timer = setTimeout(now, behind);
    void this.quiet().then(now);
  }

  /** Forgets what the page would have followed to. */
  drop() {
    clearTimeout(this.timer);
    this.turn++;
    this.next = undefined;
  }
}
