import type { Picture } from "./api/client";

/** How a picture is worked on: drawings are what is drawn, and pictures whose colours are gathered into families. */
export const kindOf = (p: Picture) => (p.format === "svg" || p.document.parts.some((q) => q.family) ? "drawing" : "photo");
