import { useState } from "react";
import styled from "styled-components";
import { useMutation } from "@tanstack/react-query";
import { api, explain, unwrap, type Part, type Pattern, type PatternLay, type Swatch, type Target, type TileStroke } from "../../api/client";
import { Button, Heading, Notice, Segmented } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Toggle } from "../../look/Toggle";
import { Disc } from "../../look/Disc";
import { later } from "../../look/later";
import { MenuButton } from "../../look/MenuButton";
import { still } from "../../look/still";
import { SwatchButton, Swatches } from "../../look/Swatches";
import { ColourField, Line } from "../colour/ColourField";
import type { Tool } from "../stage/tools";
import { drawnWith, withDrawn } from "./tile";
import { firstPattern, inPerspective, middleOf, mostColours, withGrid, withTaken, withTile, type Tile } from "./patterns";
import * as words from "../../words/pattern";

const TileDialog = later(() => import("./TileDialog").then((m) => m.TileDialog));

const Buttons = styled.span`display: flex; gap: 6px; flex-wrap: wrap; align-items: center;`;
const Wide = styled.div`grid-column: 2 / -1;`;

interface Props {
  pattern?: Pattern;
  target: Target;
  copy: Part["copy"];
  picks: Part["picks"];
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
export const PatternBox = still(function PatternBox({ pattern: p, target, copy, picks, own, palette, picture, pictures, tool, onTool, onDrag, onRest }: Props) {
  const [which, setWhich] = useState(0);
  const [drawing, setDrawing] = useState(false);
  const [strokes, setStrokes] = useState<TileStroke[]>([]);
  const width = picture.width / (copy?.scale || 1); // a pattern on a copy is in pixels of the original
  const take = useMutation({
    mutationFn: (from: string) => unwrap(api.POST("/api/pictures/{picture}/tile", { params: { path: { picture: picture.id } }, body: { from } })),
    onSuccess: (taken) => { setWhich(0); onRest(words.patternFromAPicture, withTaken(p, taken, palette, width)); },
  });
  const others = pictures.filter((q) => q.id !== picture.id);
  const choose = (tile: Tile | "none") => {
    take.reset();
    if (tile === "drawn") return; // it is chosen below, by its picture
    if (tile === "none") {
      onTool("none");
      onRest(words.noPattern, undefined);
    } else onRest(words.patternOfTile(tile), p ? withTile(p, tile) : firstPattern(tile, width, { css: "#f2ece0" }));
  };
  const colours = drawnWith(p, palette, target);
  const hexOf = (t: Target) => palette.find((c) => c.id === t.palette_id)?.hex ?? (t.css && CSS.supports("color", t.css) ? t.css : (own ?? "#8a8a8a"));
  const tiles = (
    <>
      <Heading>{words.pattern}</Heading>
      <div><Segmented small label={words.pattern} value={p?.lay.tile ?? "none"} onChange={choose} options={[["none", words.none], ["stripes", words.stripes], ["dots", words.dots], ["checks", words.checks], ["zigzag", words.zigzag]]} /></div>
      <Line>
        <span>{words.drawn}</span>
        <Wide>
          <Buttons>
            <MenuButton plain placement="bottom start" isDisabled={take.isPending || others.length === 0} groups={[{ entries: others.map((q) => ({ label: q.name, onAction: () => take.mutate(q.id) })) }]}>
              {take.isPending ? words.takingItApart : words.fromAPicture}
            </MenuButton>
            <Button onPress={() => setDrawing(true)}>{words.byHand}</Button>
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
          ground={hexOf(target)}
          picture={picture.id}
          onTake={(file, c) => { setWhich(0); setDrawing(false); onRest(words.patternDrawnByHand, withDrawn(p, file, c, width)); }}
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
    <NumberRow label={label} value={value} min={min} max={max} initial={initial} {...extra} onDrag={(v) => onDrag(lay(put(v)))} onRest={(v) => onRest(words.patternSetting(label), lay(put(v)))} />
  );
  return (
    <>
      {tiles}
      <Line>
        <span>{words.colours}</span>
        <Wide>
          <Buttons>
            <Segmented small label={words.colourOfThePatternAtHand} value={String(at)} onChange={(v) => setWhich(Number(v))} options={p.colours.map((_, i) => [String(i), String(i + 1)])} />
            {p.colours.length < mostColours[p.lay.tile] && <Button $kind="quiet" onPress={() => { setWhich(p.colours.length); onRest(words.anotherColourOfThePattern, { ...p, colours: [...p.colours, { css: "#8a8a8a" }] }); }}>{words.oneMore}</Button>}
            {p.colours.length > 1 && p.lay.tile !== "drawn" && <Button $kind="quiet" onPress={() => onRest(words.oneColourLess, { ...p, colours: p.colours.filter((_, i) => i !== at) })}>{words.takeOut}</Button>}
          </Buttons>
        </Wide>
      </Line>
      <Swatches role="group" aria-label={words.paletteForThePattern}>
        {palette.map((c) => (
          <SwatchButton key={c.id} $on={colour?.palette_id === c.id} aria-label={words.nameForThePattern(c.name)} aria-pressed={colour?.palette_id === c.id} onPress={() => onRest(words.patternInName(c.name), coloured({ css: c.css, palette_id: c.id, tolerance: c.tolerance }))}>
            <Disc from={c.hex ?? "#888"} size={20} />
          </SwatchButton>
        ))}
      </Swatches>
      <Line>
        <span>{words.itsColour}</span>
        <ColourField label={words.colourAtOfThePattern(at + 1)} relative own={own} value={colour?.css ?? ""} placeholder={words.f2ece0} onDrag={(css) => onDrag(coloured({ css }))} onColour={(css) => onRest(words.colourOfThePattern, coloured({ css }))} />
        <span />
      </Line>
      {p.lay.tile !== "checks" && p.lay.tile !== "drawn" && hand(words.figures, p.lay.share, 1, 99, 50, (share) => ({ share }), { unit: "%" })}
      {hand(words.repeat, p.lay.size, 4, p.lay.corners ? 1000 : Math.round(width / 2), p.lay.corners ? 150 : Math.round(width / 20), (size) => ({ size }), p.lay.corners ? {} : { unit: "px" })}
      {hand(words.turned, p.lay.angle ?? 0, -180, 180, 0, (angle) => ({ angle: angle || undefined }), { signed: true, unit: "°" })}
      {hand(words.folds, p.lay.folds ?? 0, 0, 100, 25, (folds) => ({ folds: folds || undefined }), { unit: "%" })}
      {!!p.lay.folds && hand(words.foldsLean, p.lay.lean ?? 0, -100, 100, 0, (lean) => ({ lean: lean || undefined }), { signed: true, unit: "%" })}
      {hand(words.patternStrength, p.lay.strength, 0, 100, 100, (strength) => ({ strength }), { unit: "%" })}
      <div><Segmented small label={words.howItRepeats} value={p.lay.repeat ?? "straight"} onChange={(v) => onRest(words.repeatV(v), lay({ repeat: v === "straight" ? undefined : v }))} options={[["straight", words.straight], ["half-drop", words.halfDrop], ["brick", words.brick], ["mirrored", words.mirrored]]} /></div>
      <div><Segmented small label={words.howItIsMade} value={p.lay.print ? "print" : "woven"} onChange={(v) => onRest(v === "print" ? words.printed : words.woven, lay({ print: v === "print" || undefined }))} options={[["woven", words.wovenIn], ["print", words.printedOver]]} /></div>
      <Toggle on={!!p.lay.corners} onChange={(on) => { onRest(on ? words.patternInPerspective : words.patternFromTheFront, { ...p, lay: inPerspective(p.lay, on, picture, copy, middleOf(picks)) }); if (on) onTool("pattern"); }}>{words.inPerspectiveByTheCornersOf}</Toggle>
      {p.lay.corners && <Toggle on={!!p.lay.grid} onChange={(on) => { onRest(on ? words.patternOnAGrid : words.patternWithoutItsGrid, { ...p, lay: withGrid(p.lay, on) }); if (on) onTool("pattern"); }}>{words.bentByAGridOfNodes}</Toggle>}
      {p.lay.corners && hand(words.round, p.lay.round ?? 0, 0, 100, 0, (round) => ({ round: round || undefined, ...(round ? {} : { above: undefined }) }), { unit: "%" })}
      {p.lay.corners && !!p.lay.round && hand(words.fromAbove, p.lay.above ?? 0, -100, 100, 0, (above) => ({ above: above || undefined }), { signed: true, unit: "%" })}
      <Buttons>
        <Button onPress={() => onTool(tool === "pattern" ? "none" : "pattern")} aria-pressed={tool === "pattern"} $held={tool === "pattern"}>{tool === "pattern" ? words.dragThePicture : words.moveItOnThePicture}</Button>
        <Button onPress={() => onTool(tool === "push" ? "none" : "push")} aria-pressed={tool === "push"} $held={tool === "push"}>{tool === "push" ? words.dragWhatMustGoAlong : words.pushItByHand}</Button>
        {!!p.lay.pushes?.length && <Button $kind="quiet" onPress={() => onRest(words.pushesTakenBack, lay({ pushes: undefined }))}>{words.takeBack}{p.lay.pushes.length === 1 ? words.thePush : words.allPushes(p.lay.pushes.length)}</Button>}
      </Buttons>
    </>
  );
});
