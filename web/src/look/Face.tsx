import styled from "styled-components";

/** One face of the column: what belongs together, below each other. */
export const Face = styled.div`
  position: relative;
  padding: 12px 14px 20px;
  display: grid;
  gap: 11px;
  grid-auto-rows: max-content;
  align-content: start;
  overflow: auto;
  min-height: 0;
  flex: 1;
`;
