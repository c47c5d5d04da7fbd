import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import styled from "styled-components";
import { api, explain, unwrap, type Target, type TileStroke } from "../../api/client";
import { Button, Notice } from "../../look/controls";
import { NumberRow } from "../../look/NumberRow";
import { Dialog } from "../../look/Dialog";
import { Disc } from "../../look/Disc";
import { Small } from "../../look/Field";
import { SwatchButton, Swatches } from "../../look/Swatches";
import { drawTiles, further, rubOut } from "./tile";
import * as words from "../../words/pattern";

const Two = styled.div`display: grid; grid-template-columns: auto minmax(0, 1fr); gap: 16px; align-items: start; @media (max-width: 560px) { grid-template-columns: 1fr; }`;
const Field = styled.canvas`border: 1px solid var(--ink); border-radius: var(--round); touch-action: none; cursor: crosshair; display: block; width: 300px; height: 300px;`;
const Hands = styled.div`display: grid; gap: 12px;`;
const Buttons = styled.div`display: flex; gap: 8px; flex-wrap: wrap;`;

const shown = 300; // CSS pixels of the field,
const side = 150; // and of the tile in its middle
const corner = (shown - side) / 2;

interface Props {
  /** What was drawn before, which is gone on with. */
  strokes: TileStroke[];
  onStrokes: (how: (s: TileStroke[]) => TileStroke[]) => void;
  /** Of the figures. */
  colours: Target[];
  hexes: string[];
  ground: string;
  picture: string;
  onTake: (file: string, colours: Target[]) => void;
  onClose: () => void;
}

/** Draws a tile on a field on which it repeats: what is drawn anywhere is drawn on every repeat. */
export function TileDialog({ strokes, onStrokes, colours, hexes, ground, picture, onTake, onClose }: Props) {
  const [figure, setFigure] = useState(0);
  const [tip, setTip] = useState(8);
  const [drawn, setDrawn] = useState<TileStroke>(); // under the hand, as it is shown
  const hand = useRef<TileStroke>(undefined); // and as it is: a quick click is over before the page has followed
  const [cursor, setCursor] = useState<[number, number]>(); // of the keys
  const canvas = useRef<HTMLCanvasElement>(null);
  const take = useMutation({
    mutationFn: () => unwrap(api.POST("/api/pictures/{picture}/tile/drawn", { params: { path: { picture } }, body: { strokes } })),
    onSuccess: (t) => onTake(t.file, t.figures.map((i) => colours[i] ?? {})),
  });
  useEffect(() => {
    const c = canvas.current;
    const g = c?.getContext("2d");
    if (!c || !g) return;
    const k = devicePixelRatio;
    c.width = c.height = shown * k;
    drawTiles(g, drawn ? [...strokes, drawn] : strokes, hexes, ground, side * k, corner * k, corner * k);
    for (const [w, colour] of [[3, "#fff"], [1, "#000"]] as const) {
      g.lineWidth = w * k;
      g.strokeStyle = colour;
      g.setLineDash(w === 1 ? [4 * k, 4 * k] : []);
      g.strokeRect(corner * k, corner * k, side * k, side * k);
      if (cursor) {
        const [x, y] = cursor.map((v) => (corner + (v * side) / 1000) * k) as [number, number];
        g.setLineDash([]);
        g.beginPath();
        g.arc(x, y, Math.max(2, (tip / 200) * side) * k, 0, 2 * Math.PI);
        g.stroke();
      }
    }
    g.setLineDash([]);
  }, [strokes, drawn, hexes, ground, cursor, tip]);

  const at = (e: PointerEvent): [number, number] => {
    const r = e.currentTarget.getBoundingClientRect();
    return [(1000 * (e.clientX - r.left - 1 - corner)) / side, (1000 * (e.clientY - r.top - 1 - corner)) / side];
  };
  const begun = (p: [number, number]): TileStroke => ({ figure, radius: tip * 5, points: [p.map(Math.round)] });
  const draw = (s: TileStroke | undefined) => {
    hand.current = s;
    setDrawn(s);
  };
  const done = () => {
    const s = hand.current;
    draw(undefined);
    if (s) onStrokes((all) => [...all, s].slice(0, 300));
    take.reset();
  };
  const key = (e: KeyboardEvent) => {
    const step = e.shiftKey ? 10 : 50;
    const way = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as Record<string, [number, number]>)[e.key];
    const here = cursor ?? [500, 500];
    if (way) {
      const to: [number, number] = [Math.max(-480, Math.min(1480, here[0] + step * way[0])), Math.max(-480, Math.min(1480, here[1] + step * way[1]))];
      setCursor(to);
      if (hand.current) draw(further(hand.current, to));
    } else if (e.key === " ") {
      setCursor(here);
      if (hand.current) done();
      else draw(begun(here));
    } else return;
    e.preventDefault();
  };
  const nothing = !strokes.some((s) => s.figure !== rubOut);
  return (
    <Dialog title={words.drawATile} open onClose={onClose}>
      <Two>
        <Field
          ref={canvas}
          tabIndex={0}
          role="application"
          aria-label={words.theTileWhichRepeatsArrowKeys}
          onPointerDown={(e) => { e.currentTarget.setPointerCapture(e.pointerId); setCursor(undefined); draw(begun(at(e))); }}
          onPointerMove={(e) => { if (hand.current && e.buttons) draw(further(hand.current, at(e))); }}
          onPointerUp={done}
          onPointerCancel={() => draw(undefined)}
          onKeyDown={key}
          onBlur={() => setCursor(undefined)}
        />
        <Hands>
          <Swatches role="group" aria-label={words.whatIsDrawn}>
            {colours.map((_, i) => (
              <SwatchButton key={i} $on={figure === i} aria-label={words.drawWithColourNumber(i + 1)} aria-pressed={figure === i} onPress={() => setFigure(i)}>
                <Disc from={hexes[i] ?? "#888"} size={26} />
              </SwatchButton>
            ))}
          </Swatches>
          <Buttons>
            <Button aria-pressed={figure === rubOut} $held={figure === rubOut} onPress={() => setFigure(rubOut)}>{words.rubOut}</Button>
          </Buttons>
          <Small>{words.theDashedSquareIsOneRepeat}</Small>
          <Buttons>
            <Button $kind="quiet" isDisabled={strokes.length === 0} onPress={() => onStrokes((all) => all.slice(0, -1))}>{words.lastStrokeBack}</Button>
            <Button $kind="quiet" isDisabled={strokes.length === 0} onPress={() => onStrokes(() => [])}>{words.beginAnew}</Button>
          </Buttons>
        </Hands>
      </Two>
      <NumberRow label={words.tipOfARepeat} value={tip} min={1} max={60} initial={8} unit="%" onDrag={setTip} onRest={setTip} />
      {take.error && <Notice strong>{explain(take.error)}</Notice>}
      <Buttons>
        <Button $kind="solid" isDisabled={nothing || take.isPending} onPress={() => take.mutate()}>{take.isPending ? words.layingItOn : words.layItOn}</Button>
        <Button onPress={onClose}>{words.close}</Button>
      </Buttons>
    </Dialog>
  );
}
