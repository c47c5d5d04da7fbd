import type { CSSProperties } from "react";
import styled from "styled-components";

/** What the stage stands on. */
export const Ground = styled.main`
  position: relative;
  overflow: hidden;
  min-width: 0;
  min-height: 0;
  touch-action: none;
  canvas { position: absolute; inset: 0; width: 100%; height: 100%; outline-offset: -4px; }
`;
/** Where a chip is: at an edge, right of the middle, or so many pixels from an edge. */
type Edge = "left" | "middle" | "right" | { left: number } | { right: number };
/** As a style, so that one that follows a hand needs no rule of its own for each place. */
const from = (at: Edge): CSSProperties => (typeof at === "object" ? at : { left: { left: 12 }, middle: { left: "calc(50% + 12px)" }, right: { right: 12 } }[at]);
/** Names a side of a comparison. */
export const Chip = styled.span.attrs<{ $at: Edge }>((p) => ({ style: from(p.$at) }))<{ $at: Edge }>`
  position: absolute;
  top: 12px;
  font-size: 11px;
  background: rgba(20, 20, 20, 0.8);
  color: #fff;
  padding: 2px 8px;
  border-radius: 4px;
  pointer-events: none;
`;
/** Says what to do next. */
export const Hint = styled.div`
  position: absolute;
  left: 50%;
  bottom: 16px;
  transform: translateX(-50%);
  background: rgba(20, 20, 20, 0.84);
  color: #fff;
  border-radius: 8px;
  padding: 6px 12px;
  font-size: 12px;
  white-space: nowrap;
  pointer-events: none;
`;
