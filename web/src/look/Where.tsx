import type { Picture } from "../api/client";
import { follow } from "../router";
import { Crumb } from "./Bench";
import { Brand, Space } from "./controls";

/** The left of a picture's bar: the way back to its job, its name, and whether all of it is stored. */
export function Where({ picture, saving }: { picture: Picture; saving: "saved" | "saving" | "offline" }) {
  return (
    <>
      <Brand onGo={follow("/")} />
      <Crumb aria-label="Where you are">
        <a href={`/jobs/${picture.job}`} onClick={follow(`/jobs/${picture.job}`)}>{picture.job_name}</a> / <h1 title={picture.name}>{picture.name}</h1>
      </Crumb>
      <Space />
      <span className="num" role="status" aria-live="polite" style={{ color: "var(--ink3)", whiteSpace: "nowrap" }} data-saving={saving} data-revision={picture.revision}>
        {saving === "saved" ? "saved" : saving === "saving" ? "saving" : "not saved yet"}
      </span>
    </>
  );
}
