import { useState } from "react";
import styled from "styled-components";
import { useMutation } from "@tanstack/react-query";
import { api, explain, unwrap, type Part, type Pattern, type PatternLay, type Swatch, type Target, type TileStroke } from "../../api/client";
import { Button, Heading, Notice, NumberRow, Segmented, Toggle } from "../../look/controls";
import { Disc } from "../../look/Disc";
import { later } from "../../look/later";
import { MenuButton } from "../../look/MenuButton";
import { SwatchButton, Swatches } from "../../look/Swatches";
import { ColourField, Line } from "../colour/ColourField";
import type { Tool } from "../stage/tools";
import { drawnWith, withDrawn } from "./tile";
import { firstPattern, inPerspective, middleOf, mostColours, withGrid, withTaken, withTile, type Tile } from "./patterns";

const TileDialog = later(() => import("./TileDialog").then((m) => m.TileDialog));

const Buttons = styled.span`display: flex; gap: 6px; flex-wrap: wrap; align-items: center;`;
const Wide = styled.div`grid-column: 2 / -1;`;

interface Props {
  part: Part;
  own?: string;
  palette: Swatch[];
  picture: { id: string; width: number; height: number };
  /** Of the job, which tiles can be taken from. */
  pictures: { id: string; name: string }[];
  tool: Tool;
  onTool: (t: Tool) => void;
  onDrag: (p: Pattern) => void;
  onRest: (label: string, p: Pattern | undefined) => void;
}

/** The pattern that lies on the part: its figures, how they repeat and lie, and their colours, which each colourway has its own of. */
export function PatternBox({ part, own, palette, picture, pictures, tool, onTool, onDrag, onRest }: Props) {
  const [which, setWhich] = useState(0);
  const [drawing, setDrawing] = useState(false);
  const [strokes, setStrokes] = useState<TileStroke[]>([]);
  const p = part.pattern;
  const width = picture.width / (part.copy?.scale || 1); // a pattern on a copy is in pixels of the original
  const take = useMutation({
    mutationFn: (from: string) => unwrap(api.POST("/api/pictures/{picture}/tile", { params: { path: { picture: picture.id } }, body: { from } })),
    onSuccess: (taken) => { setWhich(0); onRest("pattern from a picture", withTaken(p, taken, palette, width)); },
  });
  const others = pictures.filter((q) => q.id !== picture.id);
  const choose = (tile: Tile | "none") => {
    take.reset();
    if (tile === "drawn") return; // it is chosen below, by its picture
    if (tile === "none") {
      onTool("none");
      onRest("no pattern", undefined);
    } else onRest(`pattern of ${tile}`, p ? withTile(p, tile) : firstPattern(tile, width, { css: "#f2ece0" }));
  };
  const colours = drawnWith(p, palette, part.target);
  const hexOf = (t: Target) => palette.find((c) => c.id === t.palette_id)?.hex ?? (t.css && CSS.supports("color", t.css) ? t.css : (own ?? "#8a8a8a"));
  const tiles = (
    <>
      <Heading>Pattern</Heading>
      <div><Segmented small label="Pattern" value={p?.lay.tile ?? "none"} onChange={choose} options={[["none", "None"], ["stripes", "Stripes"], ["dots", "Dots"], ["checks", "Checks"], ["zigzag", "Zigzag"]]} /></div>
      <Line>
        <span>Drawn</span>
        <Wide>
          <Buttons>
            <MenuButton plain placement="bottom start" isDisabled={take.isPending || others.length === 0} groups={[{ entries: others.map((q) => ({ label: q.name, onAction: () => take.mutate(q.id) })) }]}>
              {take.isPending ? "Taking it apart" : "From a picture"}
            </MenuButton>
            <Button onPress={() => setDrawing(true)}>By hand</Button>
          </Buttons>
        </Wide>
      </Line>
      {take.error && <Notice strong>{explain(take.error)}</Notice>}
      {drawing && (
        <TileDialog
          strokes={strokes}
          onStrokes={setStrokes}
          colours={colours}
          hexes={colours.map(hexOf)}
          ground={hexOf(part.target)}
          picture={picture.id}
          onTake={(file, c) => { setWhich(0); setDrawing(false); onRest("pattern drawn by hand", withDrawn(p, file, c, width)); }}
          onClose={() => setDrawing(false)}
        />
      )}
    </>
  );
  if (!p) return tiles;
  const at = Math.min(which, p.colours.length - 1);
  const colour = p.colours[at];
  const coloured = (t: Target): Pattern => ({ ...p, colours: p.colours.map((c, i) => (i === at ? t : c)) });
  const lay = (change: Partial<PatternLay>): Pattern => ({ ...p, lay: { ...p.lay, ...change } });
  const hand = (label: string, value: number, min: number, max: number, initial: number, put: (v: number) => Partial<PatternLay>, extra?: { signed?: boolean; unit?: string; step?: number }) => (
    <NumberRow label={label} value={value} min={min} max={max} initial={initial} {...extra} onDrag={(v) => onDrag(lay(put(v)))} onRest={(v) => onRest(`pattern: ${label.toLowerCase()}`, lay(put(v)))} />
  );
  return (
    <>
      {tiles}
      <Line>
        <span>Colours</span>
        <Wide>
          <Buttons>
            <Segmented small label="Colour of the pattern at hand" value={String(at)} onChange={(v) => setWhich(Number(v))} options={p.colours.map((_, i) => [String(i), String(i + 1)])} />
            {p.colours.length < mostColours[p.lay.tile] && <Button $kind="quiet" onPress={() => { setWhich(p.colours.length); onRest("another colour of the pattern", { ...p, colours: [...p.colours, { css: "#8a8a8a" }] }); }}>One more</Button>}
            {p.colours.length > 1 && p.lay.tile !== "drawn" && <Button $kind="quiet" onPress={() => onRest("one colour less", { ...p, colours: p.colours.filter((_, i) => i !== at) })}>Take out</Button>}
          </Buttons>
        </Wide>
      </Line>
      <Swatches role="group" aria-label="Palette, for the pattern">
        {palette.map((c) => (
          <SwatchButton key={c.id} $on={colour?.palette_id === c.id} aria-label={`${c.name}, for the pattern`} aria-pressed={colour?.palette_id === c.id} onPress={() => onRest(`pattern in ${c.name}`, coloured({ css: c.css, palette_id: c.id, tolerance: c.tolerance }))}>
            <Disc from={c.hex ?? "#888"} size={20} />
          </SwatchButton>
        ))}
      </Swatches>
      <Line>
        <span>Its colour</span>
        <ColourField label={`Colour ${at + 1} of the pattern`} relative own={own} value={colour?.css ?? ""} placeholder="#f2ece0" onDrag={(css) => onDrag(coloured({ css }))} onColour={(css) => onRest("colour of the pattern", coloured({ css }))} />
        <span />
      </Line>
      {p.lay.tile !== "checks" && p.lay.tile !== "drawn" && hand("Figures", p.lay.share, 1, 99, 50, (share) => ({ share }), { unit: "%" })}
      {hand("Repeat", p.lay.size, 4, p.lay.corners ? 1000 : Math.round(width / 2), p.lay.corners ? 150 : Math.round(width / 20), (size) => ({ size }), p.lay.corners ? {} : { unit: "px" })}
      {hand("Turned", p.lay.angle ?? 0, -180, 180, 0, (angle) => ({ angle: angle || undefined }), { signed: true, unit: "°" })}
      {hand("Folds", p.lay.folds ?? 0, 0, 100, 25, (folds) => ({ folds: folds || undefined }), { unit: "%" })}
      {!!p.lay.folds && hand("Folds lean", p.lay.lean ?? 0, -100, 100, 0, (lean) => ({ lean: lean || undefined }), { signed: true, unit: "%" })}
      {hand("Pattern strength", p.lay.strength, 0, 100, 100, (strength) => ({ strength }), { unit: "%" })}
      <div><Segmented small label="How it repeats" value={p.lay.repeat ?? "straight"} onChange={(v) => onRest(`repeat ${v}`, lay({ repeat: v === "straight" ? undefined : v }))} options={[["straight", "Straight"], ["half-drop", "Half-drop"], ["brick", "Brick"], ["mirrored", "Mirrored"]]} /></div>
      <div><Segmented small label="How it is made" value={p.lay.print ? "print" : "woven"} onChange={(v) => onRest(v === "print" ? "printed" : "woven", lay({ print: v === "print" || undefined }))} options={[["woven", "Woven in"], ["print", "Printed over"]]} /></div>
      <Toggle on={!!p.lay.corners} onChange={(on) => { onRest(on ? "pattern in perspective" : "pattern from the front", { ...p, lay: inPerspective(p.lay, on, picture, part.copy, middleOf(part.picks)) }); if (on) onTool("pattern"); }}>In perspective, by the corners of a square</Toggle>
      {p.lay.corners && <Toggle on={!!p.lay.grid} onChange={(on) => { onRest(on ? "pattern on a grid" : "pattern without its grid", { ...p, lay: withGrid(p.lay, on) }); if (on) onTool("pattern"); }}>Bent by a grid of nodes</Toggle>}
      {p.lay.corners && hand("Round", p.lay.round ?? 0, 0, 100, 0, (round) => ({ round: round || undefined, ...(round ? {} : { above: undefined }) }), { unit: "%" })}
      {p.lay.corners && !!p.lay.round && hand("From above", p.lay.above ?? 0, -100, 100, 0, (above) => ({ above: above || undefined }), { signed: true, unit: "%" })}
      <Buttons>
        <Button onPress={() => onTool(tool === "pattern" ? "none" : "pattern")} aria-pressed={tool === "pattern"}>{tool === "pattern" ? "Drag the picture" : "Move it on the picture"}</Button>
        <Button onPress={() => onTool(tool === "push" ? "none" : "push")} aria-pressed={tool === "push"}>{tool === "push" ? "Drag what must go along" : "Push it by hand"}</Button>
        {!!p.lay.pushes?.length && <Button $kind="quiet" onPress={() => onRest("pushes taken back", lay({ pushes: undefined }))}>Take back {p.lay.pushes.length === 1 ? "the push" : `all ${p.lay.pushes.length} pushes`}</Button>}
      </Buttons>
    </>
  );
}
