import { createContext } from "react";

/**
 * Whether what a hand drags is shown where it matters before the page follows. Then the page may follow when there is time: rendering all of
 * it for each step takes as long as the step does.
 */
export const GoesAhead = createContext(false);

let late = false;

/** Does something after which the page may follow late. */
export function lately(f: () => void) {
  const was = late;
  late = true;
  try {
    f();
  } finally {
    late = was;
  }
}

/** Whether that is being done. */
export const isLate = () => late;
