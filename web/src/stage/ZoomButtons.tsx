import styled from "styled-components";
import { Button } from "../look/controls";

const Group = styled.span`
  display: flex;
  button { padding: 2px 6px; min-width: 24px; min-height: 24px; }
  .num { display: inline-block; min-width: 40px; text-align: center; }
`;

/** Zooms by hands that have neither wheel nor keys, and says how large what is shown is, in percent. */
export function ZoomButtons({ percent, what, onZoom }: { percent: number; what: "picture" | "drawing"; onZoom: (by: number | "fit") => void }) {
  const shown = percent < 9.95 ? percent.toFixed(1) : String(Math.round(percent));
  return (
    <Group role="group" aria-label="Zoom">
      <Button $kind="quiet" aria-label="Zoom out" onPress={() => onZoom(0.8)}>−</Button>
      <Button $kind="quiet" aria-label={`${shown} %, fit the ${what}`} onPress={() => onZoom("fit")}><span className="num">{shown} %</span></Button>
      <Button $kind="quiet" aria-label="Zoom in" onPress={() => onZoom(1.25)}>+</Button>
    </Group>
  );
}
