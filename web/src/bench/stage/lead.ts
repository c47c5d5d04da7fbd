import type { Document } from "../../api/client";
import { keyOf } from "../../api/identity";

interface Showing {
  document: Document;
  quick: boolean;
  moving: boolean;
}

/** Keeps a stage that went ahead of its page from being taken back to what the page, which is late, still shows. */
export class Lead<T extends Showing> {
  private to: Showing | undefined;
  private page: Document | undefined;
  private readonly passed = new Set<string>();

  /** Goes ahead to a document; returns what to show. */
  ahead(now: T, to: Showing): T {
    this.passed.add(keyOf(now.document));
    this.to = to;
    return { ...now, ...to };
  }

  /** The page shows something; returns what to show for it. Once it has caught up, or gone elsewhere, it is followed again. */
  follow(page: T): T {
    // Something else of the page changed: that says nothing of where it is going to. It may be on its way to what was passed.
    const stays = page.document === this.page;
    this.page = page.document;
    const at = this.to && keyOf(page.document);
    if (this.to && at !== undefined && (stays || (at !== keyOf(this.to.document) && this.passed.has(at)))) return { ...page, ...this.to };
    this.to = undefined;
    this.passed.clear();
    return page;
  }
}
