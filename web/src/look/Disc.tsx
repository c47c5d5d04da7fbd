import styled from "styled-components";
import * as words from "../words/look";

export type Ring = "within" | "outside" | "unreachable" | "as it is" | "unmeasured";

const Outer = styled.span<{ $ring?: Ring; $size: number }>`
  display: inline-grid;
  place-items: center;
  flex: none;
  width: ${(p) => p.$size + 10}px;
  height: ${(p) => p.$size + 10}px;
  border-radius: 50%;
  border: 1.5px solid transparent;
  ${(p) => p.$ring === "within" && "border-color: var(--ink);"}
  ${(p) => p.$ring === "outside" && "border: 1.5px dashed var(--ink);"}
  ${(p) => p.$ring === "unreachable" && "border: 2.5px dotted var(--ink);"}
`;

const said: Record<Ring, string> = {
  within: words.withinTolerance,
  outside: words.outsideTolerance,
  unreachable: words.cannotBeReachedInThisGamut,
  "as it is": words.leftAsItIs,
  unmeasured: words.notMeasuredYet,
};

/** A part: left the colour in the picture, right the colour it becomes; the ring tells the proof. Without one it is a colour and says nothing. */
export function Disc({ from, to, ring, size = 32 }: { from: string; to?: string; ring?: Ring; size?: number }) {
  return (
    <Outer $ring={ring} $size={size} {...(ring ? { role: "img", "aria-label": said[ring], "data-measured": "colour" } : { "aria-hidden": true })}>
      <svg width={size} height={size} viewBox="0 0 40 40" aria-hidden>
        <circle cx="20" cy="20" r="20" fill={from} />
        {to && <path d="M24.8 0.6A20 20 0 0 1 20 40a20 20 0 0 1-4.8-.6z" fill={to} />}
        <circle cx="20" cy="20" r="19.5" fill="none" stroke="#000" strokeOpacity=".14" />
      </svg>
    </Outer>
  );
}

const Long = styled.svg`
  display: block;
  border-radius: 20px;
`;

/** The disc, long: where a part's colour is set. */
export function Ribbon({ from, to }: { from: string; to?: string }) {
  return (
    <Long width="100%" height="40" viewBox="0 0 304 40" preserveAspectRatio="none" aria-hidden>
      <rect width="304" height="40" fill={from} />
      {to && <path d="M164 0H304V40H140z" fill={to} />}
      {!to && <path d="M164 0 140 40" stroke="#fff" strokeOpacity=".7" strokeDasharray="4 4" fill="none" />}
    </Long>
  );
}
