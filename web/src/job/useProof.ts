import { useQuery } from "@tanstack/react-query";
import { api, unwrap, type Colourway, type PictureSummary } from "../api/client";

/** The proof of a picture in a colourway, measured once for each state of either. */
export function useProof(picture: PictureSummary | undefined, w: Colourway | undefined, enabled: boolean) {
  return useQuery({
    queryKey: ["proof-in", picture?.id, picture?.revision, w?.id, JSON.stringify(w?.cells)],
    enabled: enabled && !!picture && picture.parts > 0,
    staleTime: Infinity,
    queryFn: () => unwrap(api.POST("/api/pictures/{picture}/proof", { params: { path: { picture: picture?.id ?? "" } }, body: { colourway: w?.id ?? "" } })),
  });
}

/** The address of a picture's small image in a colourway, new with each state of either. */
export function coverIn(picture: PictureSummary, w: Colourway | undefined, size: number): string {
  const state = w ? `${w.id}&state=${hash(JSON.stringify(w.cells))}` : "";
  return `/api/pictures/${picture.id}/cover?size=${size}&revision=${picture.revision}&colourway=${state}`;
}

function hash(s: string): string {
  let h = 5381;
  for (let i = 0; i < s.length; i++) h = (h * 33) ^ s.charCodeAt(i);
  return (h >>> 0).toString(36);
}
