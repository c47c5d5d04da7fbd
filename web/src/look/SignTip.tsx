import type { RefObject } from "react";
import { Tooltip, TooltipTriggerStateContext } from "react-aria-components";
import type { TooltipTriggerState } from "react-stately/useTooltipTriggerState";
import styled from "styled-components";

const Bubble = styled(Tooltip)`
  background: var(--ink);
  color: #fff;
  border-radius: 5px;
  padding: 3px 8px;
  font-size: 12px;
  max-width: 280px;
  overflow-wrap: anywhere;
`;

/** What a sign means, beside it. It is the button's name already, so that it is not told twice. */
export const SignTip = ({ says, sign, tip }: { says: string; sign: RefObject<HTMLElement | null>; tip: TooltipTriggerState }) => (
  <TooltipTriggerStateContext.Provider value={tip}>
    <Bubble triggerRef={sign} offset={6}>{says}</Bubble>
  </TooltipTriggerStateContext.Provider>
);
