import type { ReactNode } from "react";
import { Checkbox as AriaCheckbox } from "react-aria-components";
import styled from "styled-components";
import { still } from "./still";

const Check = styled(AriaCheckbox)`
  position: relative;
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 24px;
  cursor: default;
  &::before { content: ""; flex: none; width: 14px; height: 14px; border: 1.5px solid var(--ink); border-radius: 4px; background: #fff; }
  &[data-selected]::before { background: var(--ink); box-shadow: inset 0 0 0 2.5px #fff; }
  &[data-focus-visible] { outline-offset: 3px; }
`;
/** Something that is on or off. */
export const Toggle = still(function Toggle(p: { on: boolean; onChange: (on: boolean) => void; children: ReactNode }) {
  return <Check isSelected={p.on} onChange={p.onChange}>{p.children}</Check>;
});
