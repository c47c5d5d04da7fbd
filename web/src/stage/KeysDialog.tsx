import styled from "styled-components";
import { Key } from "../look/controls";
import { Toggle } from "../look/Toggle";
import { Dialog } from "../look/Dialog";
import { setSingleKeys, useSingleKeys } from "./useKeys";
import * as words from "../words/stage";

const List = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 16px;
  font-size: 12.5px;
  margin: 0;
  dt { justify-self: end; white-space: nowrap; }
  dd { margin: 0; }
`;

/** Keys, each with what it does. */
export type Keys = readonly (readonly [keys: readonly string[], what: string])[];

/** Says which keys there are, and whether those without ctrl act everywhere. */
export function KeysDialog(p: { keys: Keys; open: boolean; onClose: () => void }) {
  const everywhere = useSingleKeys();
  return (
    <Dialog title={words.keys} open={p.open} onClose={p.onClose}>
      <Toggle on={everywhere} onChange={setSingleKeys}>{words.keysWithoutCtrlActAnywhereOn}</Toggle>
      <List>
        {p.keys.map(([k, what]) => [
          <dt key={`${what}k`}>
            {k.map((x) => (
              <span key={x}> <Key>{x}</Key></span>
            ))}
          </dt>,
          <dd key={what}>{what}</dd>,
        ])}
      </List>
    </Dialog>
  );
}
