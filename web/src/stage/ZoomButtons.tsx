import styled from "styled-components";
import { SignButton } from "../look/SignButton";
import * as words from "../words/stage";

const Group = styled.span`
  display: flex;
  button { padding: 2px 6px; min-width: 24px; min-height: 24px; }
  .num { display: inline-block; min-width: 40px; text-align: center; }
`;

/** Zooms by hands that have neither wheel nor keys, and says how large what is shown is, in percent. */
export function ZoomButtons({ percent, what, onZoom }: { percent: number; what: "picture" | "drawing"; onZoom: (by: number | "fit") => void }) {
  const shown = percent < 9.95 ? percent.toFixed(1) : String(Math.round(percent));
  return (
    <Group role="group" aria-label={words.zoom}>
      <SignButton says={words.zoomOut} onPress={() => onZoom(0.8)}>−</SignButton>
      <SignButton says={words.shownFitTheWhat(shown, what)} onPress={() => onZoom("fit")}><span className="num">{shown} %</span></SignButton>
      <SignButton says={words.zoomIn} onPress={() => onZoom(1.25)}>+</SignButton>
    </Group>
  );
}
