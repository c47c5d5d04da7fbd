import { useState, type ReactNode } from "react";
import styled from "styled-components";
import { Button } from "../look/controls";
import { NumberRow } from "../look/NumberRow";
import { Small } from "../look/Field";
import * as words from "../words/drawing";

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 9px 14px 5px;
  button { padding: 1px 6px; }
`;
const Count = styled.div`padding: 0 14px 4px;`;
const None = styled(Small)`padding: 0 14px 12px;`;

/** The families of a drawing: how many there are, and their list. */
export function FamiliesPane({ n, onAsPhoto, onGather, children }: { n: number; onAsPhoto?: () => void; onGather: (n: number) => void; children: ReactNode }) {
  const [count, setCount] = useState<number>(); // while a hand moves
  return (
    <>
      <Head>
        <h2>{words.families}</h2>
        {onAsPhoto && <Button $kind="quiet" onPress={onAsPhoto}>{words.asAPhoto}</Button>}
        <Button $kind="quiet" onPress={() => onGather(0)}>{words.regroupColours}</Button>
      </Head>
      {n > 0 && <Count>
        <NumberRow label={words.howMany} value={count ?? n} min={1} max={Math.max(12, n)} initial={n} onDrag={setCount} onRest={(v) => { setCount(undefined); if (v !== n) onGather(v); }} />
      </Count>}
      {n === 0 && <None>{words.theDrawingHasNoColoursOf}</None>}
      {children}
    </>
  );
}
