import { useSyncExternalStore } from "react";
import type { Document } from "../api/client";

/** What is asked about what lies under the cursor. */
export interface Asked {
  picture: string;
  revision?: number;
  document: Document;
  part?: string;
  /** Something is shown that is not stored yet: a hand may be moving. */
  draft: boolean;
}

interface Seen {
  /** Where the pointer is, in pixels of the full size. */
  at?: { x: number; y: number };
  asked?: Asked;
}

/** Where the pointer is over the picture. It moves far more often than anything else changes, so that only who looks at it renders anew. */
export class Hovering {
  private now: Seen = {};
  private readonly told = new Set<() => void>();

  readonly to = (at: Seen["at"]) => this.set({ ...this.now, at });

  of(asked: Asked) {
    this.set({ ...this.now, asked });
  }

  private set(seen: Seen) {
    const shows = this.now.at ?? seen.at;
    this.now = seen;
    if (shows) this.told.forEach((f) => f());
  }

  readonly subscribe = (f: () => void) => {
    this.told.add(f);
    return () => void this.told.delete(f);
  };

  readonly seen = () => this.now;
}

export const useHovering = (h: Hovering) => useSyncExternalStore(h.subscribe, h.seen);
