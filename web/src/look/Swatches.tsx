import styled from "styled-components";
import { Button } from "./controls";

/** What stands below a ribbon, and the palette to press. */
export const Ends = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin-top: -5px;
  > :last-child { text-align: right; }
`;
export const Swatches = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin-left: -5px;
`;
export const SwatchButton = styled(Button)<{ $on: boolean }>`
  border: 1.5px solid ${(p) => (p.$on ? "var(--ink)" : "transparent")};
  background: none;
  border-radius: 22px;
  padding: 0;
  display: grid;
`;
