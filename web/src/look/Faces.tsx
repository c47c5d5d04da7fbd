import { createContext, useContext, type ReactNode } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import styled from "styled-components";
import { still } from "./still";

const FaceTabs = styled(Tabs)`
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
  border-top: 1px solid var(--rule);
`;
const FaceList = styled(TabList)`
  display: flex;
  background: var(--rail);
  border-bottom: 1px solid var(--rule);
`;
const FaceTab = styled(Tab)`
  flex: 1;
  text-align: center;
  padding: 8px;
  color: var(--ink2);
  cursor: default;
  &[data-selected] { background: var(--card); color: var(--ink); font-weight: 650; box-shadow: inset 0 2px 0 var(--ink); }
  &[data-focus-visible] { outline-offset: -4px; }
`;
const Panel = styled(TabPanel)`
  min-height: 0;
  flex: 1;
  display: flex;
  flex-direction: column;
  outline: none;
`;

const Contents = createContext<Readonly<Record<string, ReactNode>>>({});

/** What stands on a face: alone drawn anew where only that changed. */
function Content({ of }: { of: string }) {
  return useContext(Contents)[of];
}

const Frame = still(function Frame({ label, at, onChoose, names }: { label: string; at: string; onChoose: (face: string) => void; names: Readonly<Record<string, string>> }) {
  return (
    <FaceTabs data-faces="" selectedKey={at} onSelectionChange={(k) => onChoose(String(k))}>
      <FaceList aria-label={label}>
        {Object.entries(names).map(([id, name]) => <FaceTab key={id} id={id}>{name}</FaceTab>)}
      </FaceList>
      {Object.keys(names).map((id) => <Panel key={id} id={id}><Content of={id} /></Panel>)}
    </FaceTabs>
  );
});

/** The faces of what is chosen, one of which is shown. Its content may come later than the page. */
export function Faces<T extends string>({ contents, onChoose, ...frame }: {
  label: string;
  at: T;
  onChoose: (face: T) => void;
  /** In their order; the same object again and again. */
  names: Readonly<Record<T, string>>;
  contents: Readonly<Record<T, ReactNode>>;
}) {
  return <Contents value={contents}><Frame {...frame} onChoose={(face) => onChoose(face as T)} /></Contents>;
}
