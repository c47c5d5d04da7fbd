import styled from "styled-components";
import { FootLine } from "../look/Bench";
import { Button, Key, Segmented, Space } from "../look/controls";
import { Select } from "../look/Field";
import { LowField, numberFrom } from "../look/TypedField";
import { ZoomButtons } from "../stage/ZoomButtons";
import type { Picked } from "./usePicked";

const Boards = styled(Select)`max-width: 150px;`;
const Low = styled(Button)`padding: 1px 7px;`;

const toleranceFrom = numberFrom(0, 100);
const counted = (n: number, one: string, more: string) => (n === 1 ? `1 ${one}` : `${n} ${more}`);

interface Props {
  /** How large the drawing is shown, in percent. */
  percent: number;
  onZoom: (by: number | "fit") => void;
  /** It is one of pixels: there are no fills and strokes. */
  flat: boolean;
  boards: { id: string; name: string }[];
  /** On how many boards the family at hand is. */
  onBoards: number;
  onBoard: (id: string) => void;
  picked: Picked;
  hidden: boolean;
  onHide: () => void;
  onFitPicked: () => void;
  onFamily: () => void;
}

/** Below a drawing: how large it is shown, what a click picks, and what is picked. */
export function DrawingFoot({ percent, onZoom, flat, boards, onBoards, onBoard, picked, hidden, onHide, onFitPicked, onFamily }: Props) {
  return (
    <FootLine>
      <ZoomButtons percent={percent} what="drawing" onZoom={onZoom} />
      {boards.length > 1 && (
        <Boards aria-label="Boards" value={picked.board} onChange={(e) => onBoard(e.target.value)}>
          <option value="">All {boards.length} boards</option>
          {boards.map((b) => <option key={b.id} value={b.id}>{b.name}</option>)}
        </Boards>
      )}
      {!flat && <Segmented small label="What is picked" value={picked.prop} onChange={picked.of} options={[["", "Both"], ["fill", "Fills"], ["stroke", "Strokes"]]} />}
      <span>within</span>
      <LowField aria-label="Tolerance, CIEDE2000" value={String(picked.tolerance)} read={toleranceFrom} size={3} onValue={(v) => picked.within(Number(v))} />
      <Space />
      {picked.items.size > 0 ? (
        <>
          <span className="num" data-testid="picked">
            {!flat && `${counted(picked.things, "thing", "things")}, `}{counted(picked.colours.length, "colour", "colours")}{boards.length > 1 && ` · on ${onBoards} of ${boards.length} boards`}
          </span>
          <Low $kind="quiet" aria-pressed={hidden} onPress={onHide}>{hidden ? "Show again" : "Hide what is picked"}</Low>
          <Low $kind="quiet" onPress={onFitPicked}>Fit all of it</Low>
          <Low $kind="quiet" onPress={onFamily}>Make a family of it</Low>
        </>
      ) : (
        <span>Click a shape: all of its colour is picked. <Key>Shift</Key> adds, <Key>Alt</Key> takes away</span>
      )}
    </FootLine>
  );
}
