import { useCallback } from "react";
import styled from "styled-components";
import { api, unwrap, type Probe } from "../api/client";
import { bringing } from "../api/draft";
import * as words from "../words/bench";
import { useHovering, type Hovering } from "./hovering";
import { useLatest } from "./useLatest";

const lch = (l: number[]) => {
  const [L = 0, a = 0, b = 0] = l;
  const h = (Math.atan2(b, a) * 180) / Math.PI;
  return `L ${L.toFixed(1)} C ${Math.hypot(a, b).toFixed(1)} h ${Math.round(h < 0 ? h + 360 : h)}°`;
};

/* Gives way before anything that is pressed: it comes and goes with the pointer. The place goes first, which the eye has anyway. */
const Told = styled.span.attrs({ className: "num" })`
  display: flex;
  flex: 0 1000 auto;
  margin-left: auto;
  min-width: 0;
  overflow: hidden;
  white-space: pre;
`;
const Place = styled.span`flex: 0 1 auto; min-width: 0; overflow: hidden; text-overflow: ellipsis;`;
const Colours = styled.span`flex: none;`;

/** What stands under the cursor. */
export function Readout({ over }: { over: Hovering }) {
  const { at, asked } = useHovering(over);
  const probe = useLatest<Probe>(
    at && asked && !asked.draft ? JSON.stringify([Math.floor(at.x), Math.floor(at.y), asked.part, asked.revision]) : undefined,
    useCallback(
      (key, signal) => {
        if (!asked) throw new Error("nothing is asked");
        const [x, y] = JSON.parse(key) as [number, number];
        return unwrap(bringing(asked.picture, asked.document, (b) => api.POST("/api/pictures/{picture}/probe", { params: { path: { picture: asked.picture } }, body: { x, y, part: asked.part, ...b }, signal })));
      },
      [asked],
    ),
  );
  if (!at) return null;
  return (
    <Told data-testid="readout">
      <Place>x {Math.floor(at.x)} y {Math.floor(at.y)}</Place>
      <Colours>
        {probe?.near !== undefined && words.nearBy(probe.near.toFixed(2))}
        {probe && ` · ${lch(probe.was)} → ${lch(probe.is)}`}
        {probe?.distance !== undefined && ` · ΔE ${probe.distance.toFixed(1)}`}
      </Colours>
    </Told>
  );
}
