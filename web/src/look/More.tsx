import { Menu } from "react-aria-components";
import styled from "styled-components";

/** The list of a menu of what else can be done. */
export const More = styled(Menu)`
  background: #fff;
  border: 1px solid var(--ink);
  border-radius: 8px;
  padding: 4px;
  outline: none;
  > * { padding: 4px 10px; border-radius: 5px; cursor: default; outline: none; }
  > *[data-focused] { background: var(--rail); }
  > *[data-disabled] { color: var(--ink3); }
`;
