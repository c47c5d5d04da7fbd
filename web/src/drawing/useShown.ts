import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, explain, unwrap, type Document, type Picture, type ShownDrawing } from "../api/client";
import { bringing } from "../api/draft";
import { keyOf } from "../api/identity";
import { useLatest } from "../bench/useLatest";
import { flatSize, type Pixels } from "./flat";

/** How long a drawing of very many things waits for a hand that moves on before it is worked out whole, in milliseconds. */
const heavyRest = 300;

interface Asked {
  picture?: Picture;
  document: Document;
  /** The profile that colours in ink are read through. */
  inks?: string;
  /** It has so many things that working it out takes longer than a hand waits. */
  heavy: boolean;
  /** It is one of pixels. */
  flat: boolean;
  /** Hears of an answer ahead of all else that shows it. */
  onShown: (shown: ShownDrawing) => void;
  onProblem: (message: string) => void;
}

/** What a drawing's document comes to: its families' colours and proofs, and of a drawing of pixels the pixels before and now. */
export function useShown({ picture, document, inks, heavy, flat, onShown, onProblem }: Asked): { shown?: ShownDrawing; pixels?: Pixels } {
  const id = picture?.id ?? "";
  const known = useRef<ShownDrawing>(undefined);
  const key = picture ? keyOf([document, inks]) : undefined;
  const shown = useLatest<ShownDrawing>(
    key,
    useCallback(async (_, signal) => {
      const had = known.current;
      const s = await unwrap(bringing(id, document, (b) => api.POST("/api/pictures/{picture}/drawing/shown", { params: { path: { picture: id } }, body: { ...b, members: had?.members }, signal }))).catch((e: unknown) => {
        onProblem(explain(e));
        throw e;
      });
      // What has the same members keeps the very lists, so that the stage need not look at them again.
      const whole = had?.members === s.members ? { ...s, groups: s.groups.map((g, i) => ({ ...g, elements: had.groups[i]?.elements ?? g.elements })) } : s;
      known.current = whole;
      onShown(whole);
      return whole;
    }, [id, document, onShown, onProblem]),
    heavy ? heavyRest : 0,
  );
  const [before, setBefore] = useState<ImageData>();
  const view = useCallback(
    async (d: Document, show: "picture" | "before", signal: AbortSignal) => {
      if (!picture) return undefined;
      const [width, height] = flatSize(picture.width, picture.height);
      const data = await unwrap(bringing(id, d, (b) => api.POST("/api/pictures/{picture}/view", { params: { path: { picture: id } }, body: { x: 0, y: 0, w: picture.width, h: picture.height, width, height, show, ...b }, parseAs: "arrayBuffer", signal })));
      return new ImageData(new Uint8ClampedArray(data), width, height);
    },
    [id, picture],
  );
  const now = useLatest(flat ? key : undefined, useCallback((_, signal) => view(document, "picture", signal), [view, document]));
  useEffect(() => {
    if (flat && !before) void view(document, "before", AbortSignal.timeout(30000)).then(setBefore, (e: unknown) => onProblem(explain(e)));
  }, [flat, before, view, document, onProblem]);
  const pixels = useMemo(() => before && { before, now }, [before, now]);
  return { shown, pixels };
}
