import { createContext } from "react";

/** What a colour is chosen for: the planes show what its photo and its job's inks reach. */
export interface For {
  /** The photo. */
  picture?: string;
  job?: string;
  /** The job's ink profile. */
  inks?: { name: string; profile: string };
}

export const Looking = createContext<For>({});
