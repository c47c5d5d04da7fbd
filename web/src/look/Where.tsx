import type { Picture } from "../api/client";
import styled from "styled-components";
import { still } from "./still";
import { Trail } from "./Trail";
import * as words from "../words/look";

const Saved = styled.span`
  color: var(--ink3);
  white-space: nowrap;
`;

/** The left of a picture's bar: the way back to its job, its name, and whether all of it is stored. */
export const Where = still(function Where({ picture, saving }: { picture: Picture; saving: "saved" | "saving" | "offline" }) {
  return (
    <>
      <Trail back={{ href: `/jobs/${picture.job}`, name: picture.job_name }} title={picture.name}>{picture.name}</Trail>
      <Saved className="num" role="status" aria-live="polite" data-saving={saving} data-revision={picture.revision}>
        {saving === "saved" ? words.saved : saving === "saving" ? words.saving : words.notSavedYet}
      </Saved>
    </>
  );
});
