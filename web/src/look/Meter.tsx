import styled from "styled-components";

/** How far something is; the i in it is as wide as what is done. */
export const Meter = styled.div`
  height: 4px;
  border-radius: 2px;
  background: #cdcdcd;
  overflow: hidden;
  i { display: block; height: 100%; background: var(--ink); }
`;
