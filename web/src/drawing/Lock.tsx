import styled from "styled-components";
import { Button } from "../look/controls";
import * as words from "../words/drawing";

const Toggle = styled(Button)`
  padding: 1px 5px;
  &[aria-pressed="true"] { background: var(--rail); color: var(--ink); font-weight: 600; }
`;

/** Holds what a drawing has as it is, or lets it go; label says what is held. */
export const Lock = ({ held, label, onPress }: { held: boolean; label: string; onPress: () => void }) => (
  <Toggle $kind="quiet" aria-pressed={held} aria-label={label} onPress={onPress}>{held ? words.locked : words.lock}</Toggle>
);
