import { api, unwrap, type Drawing, type Picture } from "../api/client";

/** Takes a photo that is embedded in a drawing into the job, as a picture of its own; nothing where the element embeds none. */
export async function takenOut(picture: Picture, d: Drawing, element: number): Promise<string | undefined> {
  const svg = new DOMParser().parseFromString(d.source, "image/svg+xml");
  const el = [svg.documentElement, ...svg.documentElement.querySelectorAll("*")][element];
  const href = el?.getAttribute("href") ?? el?.getAttribute("xlink:href") ?? "";
  const m = /^data:image\/([a-z+]+);base64,(.*)$/s.exec(href);
  if (!m?.[2]) return undefined;
  const bytes = Uint8Array.from(atob(m[2].replace(/\s/g, "")), (c) => c.charCodeAt(0));
  const made = await unwrap(api.POST("/api/jobs/{job}/pictures", { params: { path: { job: picture.job }, query: { name: `${picture.name}, embedded.${m[1] ?? "png"}` } }, body: new Blob([bytes]) as unknown as string, bodySerializer: (b) => b as unknown as Blob, headers: { "Content-Type": "application/octet-stream" } }));
  return made.id;
}
