import { startTransition } from "react";
import { flushSync } from "react-dom";
import { isLate } from "../look/goesAhead";

/** How long a page that may follow late stays behind a hand that does not rest, in milliseconds. */
export const behind = 200;

/** Lets a page follow: at once, or, of what was done lately, to the newest once nothing else is waited for. */
export class Following {
  private next: (() => void) | undefined;
  private turn = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sent = 0;
  private there = 0;

  /**
   * tell, where there is one, changes the page's state with each following, to its number, and the page says of that when it has arrived.
   * Then a page that is still on its way goes on to what comes next instead of arriving at what is passed.
   */
  constructor(private readonly quiet: () => Promise<void>, private readonly tell?: (n: number) => void) {}

  to(f: () => void) {
    if (!isLate()) {
      this.drop();
      f();
      return;
    }
    if (this.sent > this.there) {
      this.drop();
      this.send(f);
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
      this.send(next);
    };
    this.timer = setTimeout(now, behind);
    void this.quiet().then(now);
  }

  private send(f: () => void) {
    const { tell } = this;
    if (tell) this.sent++;
    startTransition(() => {
      f();
      tell?.(this.sent);
    });
  }

  /** The page is where the nth following led. */
  arrived(n: number) {
    this.there = n;
  }

  /** Follows without waiting any longer: whoever does something else does it on the page that is meant. */
  now() {
    const { next } = this;
    this.drop();
    if (next) flushSync(next);
  }

  /** Forgets what the page would have followed to. */
  drop() {
    clearTimeout(this.timer);
    this.turn++;
    this.next = undefined;
  }
}

/** What a hand does begins with one of these. */
const hands = ["pointerdown", "keydown", "click", "input", "change"];

/** Does something before each thing that a hand does, but what it does with what a selector names, until the function it returns is called. */
export function beforeHands(but: string, act: () => void): () => void {
  const before = (e: Event) => { if (!(e.target instanceof Element && e.target.closest(but))) act(); };
  hands.forEach((h) => { window.addEventListener(h, before, true); });
  return () => { hands.forEach((h) => { window.removeEventListener(h, before, true); }); };
}
