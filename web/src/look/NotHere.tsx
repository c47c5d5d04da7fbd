import styled from "styled-components";
import { Link } from "wouter";
import { Problem } from "../api/client";
import { Bar } from "./controls";
import { Brand } from "./Trail";
import { useTitle } from "./useTitle";
import * as words from "../words/look";

const Middle = styled.main`
  max-width: 560px;
  margin: 12vh auto 0;
  padding: 0 24px;
  h1 { font-size: 20px; margin: 0 0 10px; }
  p { margin: 0 0 14px; color: var(--ink2); }
  a { font-weight: 600; text-decoration: underline; }
`;

/** Whether an error says that what was asked for is not there. */
export const isNotHere = (e: unknown) => e instanceof Problem && (e.status === 404 || e.status === 400);

/** The page for what is not there: a mistyped address, or what was deleted. */
export function NotHere({ what = "page" }: { what?: "page" | "job" | "picture" }) {
  useTitle(words.nothingHere);
  return (
    <>
      <Bar><Brand /></Bar>
      <Middle>
        <h1>{what === "page" ? words.thereIsNoSuchPage : words.thisWhatIsNotHere(what)}</h1>
        <p>{what === "page" ? words.theAddressLeadsNowherePerhapsA : what === "job" ? words.itWasDeletedOrTheAddress : words.itWasTakenOutOfIts}</p>
        <Link href="/">{words.allJobs}</Link>
      </Middle>
    </>
  );
}
