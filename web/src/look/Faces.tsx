import type { ReactNode } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import styled from "styled-components";

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

/** The faces of what is chosen, one of which is shown. Its content may come later than the page. */
export function Faces<T extends string>({ label, at, onChoose, faces }: {
  label: string;
  at: T;
  onChoose: (face: T) => void;
  faces: { id: T; name: string; content: ReactNode }[];
}) {
  return (
    <FaceTabs data-faces="" selectedKey={at} onSelectionChange={(k) => onChoose(k as T)}>
      <FaceList aria-label={label}>
        {faces.map((f) => <FaceTab key={f.id} id={f.id}>{f.name}</FaceTab>)}
      </FaceList>
      {faces.map((f) => <Panel key={f.id} id={f.id}>{f.content}</Panel>)}
    </FaceTabs>
  );
}
