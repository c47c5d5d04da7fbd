import { useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../../api/client";
import { isRelative } from "./relative";

/** What a colour means; undefined while it is asked for the first time, and where there is none. */
export function useColour(css: string, job?: string, own?: string) {
  const from = own && isRelative(css) ? { own } : {};
  return useQuery({
    queryKey: ["colour", css, job, from.own],
    enabled: css !== "",
    staleTime: Infinity,
    placeholderData: (before) => (css === "" ? undefined : before),
    queryFn: () => unwrap(api.GET("/api/colour", { params: { query: { css, ...(job ? { job } : {}), ...from } } })),
  }).data;
}
