import { useEffect, useLayoutEffect, useRef, useState } from "react";
import styled from "styled-components";
import type { Colourway, Job, Swatch } from "../api/client";
import { same } from "../api/identity";
import { freshName, isIn, withCell } from "../colourways";
import { Button } from "../look/controls";
import { CoverImage } from "../look/CoverImage";
import { Disc } from "../look/Disc";
import { Small } from "../look/Field";
import { TypedField } from "../look/TypedField";
import { MenuButton } from "../look/MenuButton";
import type { JobEditing } from "./useJob";
import { coverIn, useProof } from "./useProof";
import { Flow, Named } from "../look/layout";
import * as words from "../words/job";

/** What stands for the columns that are not seen. */
const Beside = styled.th`&& { padding: 0; }`;
const Above = styled(Flow)`margin-bottom: 8px;`;

const Frame = styled.div`
  overflow: auto;
  max-height: 560px;
  border: 1px solid var(--rule);
  background: #fff;
`;
const Table = styled.table`
  border-collapse: separate;
  border-spacing: 0;
  th, td { border-right: 1px solid var(--rule); border-bottom: 1px solid var(--rule); padding: 8px; background: var(--card); }
  thead th { position: sticky; top: 0; z-index: 2; width: 164px; min-width: 164px; vertical-align: bottom; font-weight: 600; }
  tbody th, thead th:first-child { position: sticky; left: 0; z-index: 1; width: 190px; min-width: 190px; text-align: left; vertical-align: middle; }
  thead th:first-child { z-index: 3; }
  thead img { width: 132px; height: 88px; object-fit: cover; border-radius: 4px; display: block; margin: 0 auto 5px; background: #d9d9d9; }
  td { text-align: center; height: 82px; outline: none; }
  td:focus-visible { box-shadow: inset 0 0 0 2px var(--ink); }
  [data-over] { box-shadow: inset 0 0 0 2px var(--ink); background: #fff; }
  small { display: block; color: var(--ink3); font-weight: 400; }
`;
const Name = styled(TypedField)`
  width: 100%;
  text-align: center;
  font: inherit;
  border-color: transparent;
  background: none;
  &:hover { border-color: var(--rule); }
`;
const rowHeight = 82;
const columnWidth = 164;

interface Props {
  job: Job;
  editing: JobEditing;
}

const clamped = (i: number, count: number) => Math.max(0, Math.min(count - 1, i));

/** Where to scroll so that what lies from at, so long, is seen in a window of the size; nowhere else than needed. */
const within = (scrolled: number, at: number, long: number, size: number) => Math.min(at, Math.max(scrolled, at + long - size));

/** Rows are the job's parts, columns its colourways, cells what each part becomes. */
export function Matrix({ job, editing }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState(0);
  const [left, setLeft] = useState(0);
  const [at, setAt] = useState<[number, number]>([0, 0]); // the cell that Tab comes to
  const wanted = useRef<[number, number]>(undefined); // has the focus as soon as it is there
  const shown = 12;
  const wide = 14;
  const ways = job.colourways.slice(left, left + wide);
  const after = Math.max(0, job.colourways.length - left - wide) * columnWidth;
  const rows = job.rows.slice(from, from + shown);
  // Where the cell that Tab comes to is not drawn, it comes to the first that is.
  const entry = at[0] >= from && at[0] < from + rows.length && at[1] >= left && at[1] < left + ways.length ? at : [from, left];
  const goTo = (r: number, c: number) => {
    const to: [number, number] = [clamped(r, job.rows.length), clamped(c, job.colourways.length)];
    setAt(to);
    wanted.current = to;
    const box = frame.current;
    if (!box) return;
    // Headings of rows and columns lie over what is scrolled below them.
    const head = box.querySelector<HTMLElement>("thead th");
    const [hx, hy] = [head?.offsetWidth ?? 0, head?.offsetHeight ?? 0];
    box.scrollTop = within(box.scrollTop, to[0] * rowHeight, rowHeight, box.clientHeight - hy);
    box.scrollLeft = within(box.scrollLeft, to[1] * columnWidth, columnWidth, box.clientWidth - hx);
  };
  useLayoutEffect(() => {
    const cell = wanted.current && frame.current?.querySelector<HTMLElement>(`td[data-at="${wanted.current.join(" ")}"]`);
    if (!cell) return;
    wanted.current = undefined;
    cell.focus({ preventScroll: true });
  });
  const change = (label: string, id: string, how: (w: Colourway) => Colourway) => void editing.edit(label, (c) => ({ ...c, colourways: c.colourways.map((w) => (w.id === id ? how(w) : w)) }));
  const add = (id: string) => void editing.edit(words.newColourway, (c) => ({ ...c, colourways: [...c.colourways, { id, name: freshName(words.colourway, c.colourways.map((w) => w.name)), cells: {} }] }));
  const duplicate = (w: Colourway) => {
    const id = crypto.randomUUID();
    void editing.edit(words.duplicateColourway, (c) => {
      const at = c.colourways.findIndex((q) => q.id === w.id);
      return { ...c, colourways: c.colourways.toSpliced(at + 1, 0, { ...w, id, name: freshName(words.nameCopy(w.name), c.colourways.map((q) => q.name)), mark: undefined }) };
    });
  };
  const move = (w: Colourway, by: number) => void editing.edit(words.moveColourway, (c) => {
    const at = c.colourways.findIndex((q) => q.id === w.id);
    const to = Math.max(0, Math.min(c.colourways.length - 1, at + by));
    return { ...c, colourways: c.colourways.toSpliced(at, 1).toSpliced(to, 0, w) };
  });
  return (
    <section aria-label={words.colourways}>
      <Above $gap={8}>
        <h2>{words.colourways}</h2>
        <Button onPress={() => add(crypto.randomUUID())}>{words.newColourwayHigh}</Button>
        <Small as="span">
          {job.rows.length === 0 ? words.partsThatAreIsolatedInThe : words.dragAColourOntoACell}
        </Small>
      </Above>
      {(job.colourways.length > 0 || job.rows.length > 0) && (
        <Frame ref={frame} tabIndex={0} role="region" aria-label={words.theMatrixWhichScrolls} onScroll={(e) => {
          setFrom(Math.max(0, Math.floor(e.currentTarget.scrollTop / rowHeight) - 3));
          setLeft(Math.max(0, Math.floor(e.currentTarget.scrollLeft / columnWidth) - 3));
        }}>
          <Table role="grid" aria-label={words.matrixOfPartsAndColourways}>
            <thead>
              <tr>
                <th scope="col">{words.part}<small>{words.inHowManyPictures}</small></th>
                {left > 0 && <Beside aria-hidden style={{ minWidth: left * columnWidth }} />}
                {ways.map((w, n) => [w, left + n] as const).map(([w, i]) => (
                  <th key={w.id} scope="col" data-drop={`col ${w.id}`}>
                    {job.pictures[0] && <CoverImage src={coverIn(job.pictures[0], editing.stored?.colourways.find((q) => q.id === w.id), 264)} />}
                    <Name aria-label={words.nameOfName(w.name)} value={w.name} title={w.name} onValue={(name) => change(words.renameColourway, w.id, (q) => ({ ...q, name }))} />
                    <MenuButton
                      label={words.moreForName(w.name)}
                      low
                      placement="bottom"
                      groups={[{ entries: [
                        { label: words.duplicate, onAction: () => duplicate(w) },
                        { label: words.moveLeft, disabled: i === 0, onAction: () => move(w, -1) },
                        { label: words.moveRight, disabled: i === job.colourways.length - 1, onAction: () => move(w, 1) },
                        { label: words.deleteIt, onAction: () => void editing.edit(words.deleteColourway, (c) => ({ ...c, colourways: c.colourways.filter((q) => q.id !== w.id) })) },
                      ] }]}
                    >
                      ⋯
                    </MenuButton>
                  </th>
                ))}
                {after > 0 && <Beside aria-hidden style={{ minWidth: after }} />}
              </tr>
            </thead>
            <tbody>
              {from > 0 && <tr aria-hidden style={{ height: from * rowHeight }} />}
              {rows.map((r, i) => (
                <tr key={r.key}>
                  <th scope="row">
                    <Named as="span">{r.name}</Named>
                    <small>{r.pictures.length > 1 ? words.picturesCounted(r.pictures.length) : r.key.startsWith("#") ? words.onlyInPicture(job.pictures.find((q) => q.id === r.pictures[0])?.name ?? words.onePicture) : words.onePicture}</small>
                  </th>
                  {left > 0 && <Beside as="td" aria-hidden />}
                  {ways.map((w, k) => (
                    <Cell key={w.id} job={job} row={r} w={w} stored={editing.stored?.colourways.find((q) => q.id === w.id)} at={[from + i, left + k]} entry={entry[0] === from + i && entry[1] === left + k} onGo={goTo} onAt={setAt} ends={[job.rows.length - 1, job.colourways.length - 1]} onCell={(label, cell) => change(label, w.id, (q) => withCell(q, r.key, cell))} />
                  ))}
                  {after > 0 && <Beside as="td" aria-hidden />}
                </tr>
              ))}
              {from + shown < job.rows.length && <tr aria-hidden style={{ height: (job.rows.length - from - shown) * rowHeight }} />}
            </tbody>
          </Table>
        </Frame>
      )}
    </section>
  );
}

function Cell(p: { job: Job; row: Job["rows"][number]; w: Colourway; stored?: Colourway; at: [number, number]; entry: boolean; ends: [number, number]; onGo: (row: number, column: number) => void; onAt: (at: [number, number]) => void; onCell: (label: string, cell: Colourway["cells"][string] | undefined) => void }) {
  const { job, row, w } = p;
  const cell = w.cells[row.key];
  const ref = useRef<HTMLTableCellElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const o = new IntersectionObserver(([e]) => { if (e?.isIntersecting) setSeen(true); });
    if (ref.current) o.observe(ref.current);
    return () => o.disconnect();
  }, []);
  const picture = job.pictures.find((q) => q.id === row.pictures[0]);
  const proof = useProof(picture, p.stored, seen && !!p.stored);
  const part = proof.data?.parts.find((q) => isIn(row, q));
  const fresh = same(p.stored?.cells[row.key], cell);
  const to = cell?.target.css ? (job.palette.find((s) => s.id === cell.target.palette_id)?.hex ?? part?.want_hex) : cell ? undefined : part?.want_hex;
  const word = !cell ? words.asSetLow : !cell.target.css ? "as it is" : fresh && part?.lit_median !== undefined ? part.lit_median.toFixed(1) : "…";
  const say = cell?.target.css ? (job.palette.find((s) => s.id === cell.target.palette_id)?.name ?? cell.target.css) : word;
  const take = (s: Swatch) => p.onCell(words.rowInName(row.name, w.name), { target: { css: s.css, palette_id: s.id, tolerance: s.tolerance }, settings: cell?.settings });
  return (
    <td
      ref={ref}
      role="gridcell"
      tabIndex={p.entry ? 0 : -1}
      onFocus={() => p.onAt(p.at)}
      data-drop={`cell ${w.id} ${row.key}`}
      data-at={p.at.join(" ")}
      aria-label={words.rowInNameSay(row.name, w.name, say)}
      onKeyDown={(e) => {
        const [r, c] = p.at;
        const to: Record<string, [number, number]> = { ArrowUp: [r - 1, c], ArrowDown: [r + 1, c], ArrowLeft: [r, c - 1], ArrowRight: [r, c + 1], Home: [e.ctrlKey ? 0 : r, 0], End: [e.ctrlKey ? p.ends[0] : r, p.ends[1]] };
        const place = to[e.key];
        const chosen = job.palette[Number.parseInt(e.key, 10) - 1];
        if (place) p.onGo(...place);
        else if (chosen && /^[1-9]$/.test(e.key)) take(chosen);
        else if (e.key.toLowerCase() === "l") p.onCell(words.leaveAsItIs, { target: {} });
        else if (e.key === "Delete" || e.key === "Backspace") p.onCell(words.clearACell, undefined);
        else return;
        e.preventDefault();
      }}
    >
      <Disc from={part?.own_hex ?? "#c9c9c9"} to={to} ring={!cell?.target.css ? "as it is" : part && fresh ? part.state : "unmeasured"} size={32} />
      <div className="num">{word}</div>
      {cell?.settings && <small>{words.ownMethod}</small>}
    </td>
  );
}
