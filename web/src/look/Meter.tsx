import styled from "styled-components";

const Track = styled.div`
  height: 4px;
  border-radius: 2px;
  background: #cdcdcd;
  overflow: hidden;
  i { display: block; height: 100%; background: var(--ink); }
`;

/** How far something is: the share of it that is done, 0 to 1. */
export function Meter({ share, className }: { share: number; className?: string }) {
  return <Track className={className}><i style={{ width: `${100 * share}%` }} /></Track>;
}
