import { useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";

/** The chroma, in percent of CSS Color 4, of the photo's most vivid colour like one of a lightness and a hue; 0 where it has none like it; undefined where there is no photo, or no answer yet. */
export function useVivid(picture: string | undefined, oklch: number[] | undefined): number | undefined {
  const lightness = Math.round(50 * (oklch?.[0] ?? 0)) / 50; // a hand on a slider need not be answered for each step
  const hue = (3 * Math.round((oklch?.[2] ?? 0) / 3)) % 360;
  const { data } = useQuery({
    queryKey: ["vivid", picture, lightness, hue],
    enabled: !!picture && !!oklch,
    staleTime: Infinity,
    queryFn: () => unwrap(api.GET("/api/pictures/{picture}/vivid", { params: { path: { picture: picture ?? "" }, query: { lightness, hue } } })),
  });
  return data && data.chroma * 250;
}
