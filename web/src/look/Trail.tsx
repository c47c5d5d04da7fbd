import type { ReactNode } from "react";
import styled from "styled-components";
import { Link } from "wouter";
import { Space } from "./controls";
import * as words from "../words/look";

const Home = styled(Link)`
  display: flex;
  gap: 8px;
  align-items: center;
  font-weight: 660;
  font-stretch: 88%;
`;
/** Where there is too little room, the longer of the two names is cut off first. */
const Crumbs = styled.nav`
  color: var(--ink2);
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, max-content) auto minmax(0, max-content);
  gap: 5px;
  white-space: nowrap;
  > a, > h1 { overflow: hidden; text-overflow: ellipsis; }
`;

export const Brand = () => <Home href="/"><img src="/mark.svg" width={20} height={20} alt="" />{words.episema}</Home>;

/** The left of a page's bar: the way home, the way back to what holds what the page shows, and what that is. */
export function Trail({ back, title, children }: { back: { href: string; name: string }; title?: string; children: ReactNode }) {
  return (
    <>
      <Brand />
      <Crumbs aria-label={words.whereYouAre}>
        <Link href={back.href} title={back.name}>{back.name}</Link><span aria-hidden>/</span><h1 title={title}>{children}</h1>
      </Crumbs>
      <Space />
    </>
  );
}
