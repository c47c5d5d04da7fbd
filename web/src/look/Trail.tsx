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
const Crumbs = styled.nav`
  color: var(--ink2);
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
`;

export const Brand = () => <Home href="/"><img src="/mark.svg" width={20} height={20} alt="" />{words.episema}</Home>;

/** The left of a page's bar: the way home, the way back to what holds what the page shows, and what that is. */
export function Trail({ back, title, children }: { back: { href: string; name: string }; title?: string; children: ReactNode }) {
  return (
    <>
      <Brand />
      <Crumbs aria-label={words.whereYouAre}>
        <Link href={back.href}>{back.name}</Link> / <h1 title={title}>{children}</h1>
      </Crumbs>
      <Space />
    </>
  );
}
