import styled from "styled-components";

/** The frame of a bench: the stage, a column with faces, a line below. */
export const Page = styled.div`
  display: grid;
  grid-template: auto 1fr auto / 1fr 332px;
  height: 100%;
  > header, > footer { grid-column: 1 / 3; }
  /* Where there is no room beside the stage, the column goes below it and the page scrolls. */
  @media (max-width: 620px) {
    grid-template: auto minmax(240px, 46vh) auto auto / minmax(0, 1fr);
    height: auto;
    > header, > footer { grid-column: 1; }
    > aside { border-left: 0; border-top: 1px solid var(--rule); }
  }
`;
/** What a bench says before there is a picture. */
export const Waiting = styled.div`padding: 24px;`;
export const Column = styled.aside`
  border-left: 1px solid var(--rule);
  background: var(--card);
  display: flex;
  flex-direction: column;
  min-height: 0;
  /* What was measured is not of what is shown by now. */
  &[data-measuring="true"] {
    [data-measured="colour"] { opacity: 0.4; }
    [data-measured="true"] {
      visibility: hidden;
      position: relative;
      &::before { content: "…"; visibility: visible; position: absolute; left: 0; }
    }
    output[data-measured]::before, div + div > [data-measured]::before { left: auto; right: 0; }
  }
  /* Where it is low, as at 200 %, all of the column scrolls together. */
  @media (max-height: 600px) { overflow: auto; > * { flex: none; } > [data-faces] { min-height: 320px; } }
`;
export const Banner = styled.div`
  position: absolute;
  z-index: 5;
  left: 14px;
  right: 346px;
  @media (max-width: 620px) { right: 14px; }
  top: 54px;
  display: grid;
  gap: 8px;
  justify-items: start;
  pointer-events: none;
  > * { pointer-events: auto; max-width: 620px; }
`;
export const FootLine = styled.footer`
  border-top: 1px solid var(--rule);
  background: var(--card);
  display: flex;
  align-items: center;
  gap: 2px 12px;
  min-height: 34px;
  padding: 2px 14px;
  color: var(--ink2);
  white-space: nowrap;
  overflow: hidden;
  @media (max-width: 1000px) { flex-wrap: wrap; }
`;
