import { useState } from "react";
import styled from "styled-components";
import type { Areas, Edge } from "../../api/client";
import { Button, Heading } from "../../look/controls";
import { Faint } from "../../look/layout";
import * as words from "../../words/isolate";

const Says = styled.span<{ $faint?: boolean }>`flex: 1; ${(p) => p.$faint && "color: var(--ink3);"}`;
const All = styled(Button)`justify-self: start; padding-left: 0;`;

const Box = styled.div`
  border: 1px dashed var(--ink3);
  border-radius: var(--round);
  background: #fff;
  padding: 7px 10px;
  display: grid;
  gap: 5px;
  font-size: 12px;
  div { display: flex; gap: 4px; align-items: center; }
  ol { list-style: none; margin: 0; padding: 0; max-height: 148px; overflow: auto; }
  li { display: grid; grid-template-columns: 1fr auto auto; align-items: center; border-top: 1px solid var(--rule); }
`;

type Area = Areas["list"][number];

/** Areas that hang together with nothing: specks, pinholes, things taken elsewhere in the picture. */
export function AreasBox(p: { areas?: Areas; edge: Edge; shown?: Area; onShow: (a: Area | undefined) => void; onEdge: (label: string, e: Edge) => void }) {
  const [open, setOpen] = useState(false);
  const a = p.areas;
  const edge = p.edge;
  const dropped = (edge.drop_at?.length ?? 0) + (edge.fill_at?.length ?? 0);
  const undo = dropped > 0 || edge.drop_specks_under || edge.fill_holes_under;
  if (!a || (a.areas <= 1 && a.holes === 0 && !undo)) return null;
  const main = a.list.find((x) => !x.hole);
  const small = (x: Area) => x.pixels * 100 < (main?.pixels ?? 0);
  const others = a.areas - 1 - a.specks;
  const cycle = (list: Area[]) => {
    const i = p.shown ? list.indexOf(p.shown) : -1;
    p.onShow(list[(i + 1) % list.length]);
  };
  const line = (what: string, n: number, most: number, list: Area[], verb: string, act: () => void) =>
    n > 0 && (
      <div>
        <Says><b>{n} {what}{n === 1 ? "" : "s"}</b> <Faint>{words.upToMostPx(most)}</Faint></Says>
        {list.length > 0 && <Button $kind="quiet" $low onPress={() => cycle(list)} aria-label={words.showTheNextWhat(what)}>{words.show}</Button>}
        <Button $kind="quiet" $low onPress={act} aria-label={words.verbEveryWhat(verb, what)}>{verb}</Button>
      </div>
    );
  return (
    <>
      <Heading>{words.separateAreas}</Heading>
      <Box role="group" aria-label={words.separateAreas}>
        {line(words.looseSpeck, a.specks, a.speck_most, a.list.filter((x) => !x.hole && small(x)), words.dropAll, () => p.onEdge(words.dropSpecks, { ...edge, drop_specks_under: a.speck_most + 1 }))}
        {line(words.pinhole, a.pinholes, a.pinhole_most, a.list.filter((x) => x.hole && small(x)), words.fillAll, () => p.onEdge(words.fillPinholes, { ...edge, fill_holes_under: a.pinhole_most + 1 }))}
        {others > 0 && <div><Says><b>{words.moreAreas(others)}</b>{words.awayFromTheLargest}</Says></div>}
        {undo ? (
          <div>
            <Says $faint>{[edge.drop_specks_under && words.specksUnder(edge.drop_specks_under), edge.fill_holes_under && words.holesUnder(edge.fill_holes_under), dropped && words.droppedOneByOne(dropped)].filter(Boolean).join(", ")}</Says>
            <Button $kind="quiet" onPress={() => p.onEdge(words.bringAreasBack, { ...edge, drop_specks_under: undefined, fill_holes_under: undefined, drop_at: undefined, fill_at: undefined })}>{words.bringBack}</Button>
          </div>
        ) : null}
        <All $kind="quiet" aria-expanded={open} onPress={() => setOpen(!open)}>{open ? words.hideTheList : a.list.length < a.areas + a.holes ? words.listTheLargest(a.list.length, a.areas + a.holes) : words.listAllAreas(a.areas + a.holes)}</All>
        {open && (
          <ol>
            {a.list.map((x, i) => (
              <li key={i}>
                <span className="num">{x.hole ? words.hole : x === main ? words.largest : words.area}{words.pixelsPx(x.pixels.toLocaleString("en"))}</span>
                <Button $kind="quiet" onPress={() => p.onShow(x)} aria-label={words.goToNumber(x.hole ? words.hole : words.area, i + 1)}>{words.goTo}</Button>
                <Button $kind="quiet" aria-label={`${x.hole ? words.fill : words.drop} ${i + 1}`} onPress={() => p.onEdge(x.hole ? words.fillAHole : words.dropAnArea, x.hole ? { ...edge, fill_at: [...(edge.fill_at ?? []), x.at] } : { ...edge, drop_at: [...(edge.drop_at ?? []), x.at] })}>{x.hole ? words.fill : words.drop}</Button>
              </li>
            ))}
          </ol>
        )}
      </Box>
    </>
  );
}
