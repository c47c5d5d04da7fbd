import styled from "styled-components";
import { FootLine } from "../look/Bench";
import { Button, Key, Segmented, Space } from "../look/controls";
import { Select } from "../look/Field";
import { LowField, numberFrom } from "../look/TypedField";
import { ZoomButtons } from "../stage/ZoomButtons";
import type { Picked } from "./usePicked";
import * as words from "../words/drawing";

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
      <ZoomButtons percent={percent} what={words.drawing} onZoom={onZoom} />
      {boards.length > 1 && (
        <Boards aria-label={words.boards} value={picked.board} onChange={(e) => onBoard(e.target.value)}>
          <option value="">{words.allBoards(boards.length)}</option>
          {boards.map((b) => <option key={b.id} value={b.id}>{b.name}</option>)}
        </Boards>
      )}
      {!flat && <Segmented small label={words.whatIsPicked} value={picked.prop} onChange={picked.of} options={[["", words.both], ["fill", words.fills], ["stroke", words.strokes]]} />}
      <span>{words.within}</span>
      <LowField aria-label={words.toleranceCiede2000} value={String(picked.tolerance)} read={toleranceFrom} size={3} onValue={(v) => picked.within(Number(v))} />
      <Space />
      {picked.items.size > 0 ? (
        <>
          <span className="num" data-testid="picked">
            {!flat && `${counted(picked.things, "thing", "things")}, `}{counted(picked.colours.length, "colour", "colours")}{boards.length > 1 && words.onSomeOfTheBoards(onBoards, boards.length)}
          </span>
          <Low $kind="quiet" aria-pressed={hidden} onPress={onHide}>{hidden ? words.showAgain : words.hideWhatIsPicked}</Low>
          <Low $kind="quiet" onPress={onFitPicked}>{words.fitAllOfIt}</Low>
          <Low $kind="quiet" onPress={onFamily}>{words.makeAFamilyOfIt}</Low>
        </>
      ) : (
        <span>{words.clickAShapeAllOfIts}<Key>{words.shift}</Key>{words.adds}<Key>{words.alt}</Key>{words.takesAway}</span>
      )}
    </FootLine>
  );
}
