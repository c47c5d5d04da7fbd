import styled, { css } from "styled-components";

/** Things in a line, their middles level unless told otherwise; they wrap where that is asked. */
export const Flow = styled.div<{ $gap?: number; $wrap?: boolean; $apart?: boolean }>`
  display: flex;
  align-items: center;
  gap: ${(p) => p.$gap ?? 0}px;
  ${(p) => p.$wrap && css`flex-wrap: wrap;`}
  ${(p) => p.$apart && css`justify-content: space-between;`}
`;
/** A list without marks. */
export const Plain = styled.ul<{ $gap?: number }>`
  list-style: none;
  margin: 0;
  padding: 0;
  ${(p) => p.$gap !== undefined && css`display: grid; gap: ${p.$gap}px;`}
`;
/** What is said by the way. */
export const Faint = styled.span`color: var(--ink3);`;
/** What says how something goes on, below a heading. */
export const Calm = styled.p`color: var(--ink2);`;
/** A name that somebody gave, which may be one long word. */
export const Named = styled.b`overflow-wrap: anywhere;`;
/** A link that fetches a file. */
export const Fetch = styled.a`font-weight: 600; text-decoration: underline;`;
/** A landmark that lays nothing out itself. */
export const Whole = styled.main`display: contents;`;
