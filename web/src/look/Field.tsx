import styled, { css } from "styled-components";

export const fieldLook = css`
  min-width: 0;
  border: 1px solid var(--edge);
  border-radius: 5px;
  background: #fff;
  padding: 4px 7px;
  font: 12px/1.35 var(--figures);
  &:focus { border-color: var(--ink); outline: none; }
  &[aria-invalid="true"] { border: 1.5px dashed var(--ink); }
`;
/** A field for typed text and figures; dashed where what is typed is wrong. */
export const Field = styled.input`${fieldLook}`;

export const Select = styled.select`
  min-width: 0;
  border: 1px solid var(--edge);
  border-radius: 5px;
  background: #fff;
  padding: 3px 6px;
  font: inherit;
`;

/** A line that explains. */
export const Small = styled.p`
  color: var(--ink3);
  font-size: 12px;
`;
