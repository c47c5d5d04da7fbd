import type { RefObject } from "react";
import { Header, Menu, MenuItem, MenuSection, Popover } from "react-aria-components";
import styled from "styled-components";
import type { MenuEntry, MenuGroup } from "./MenuButton";
import * as words from "../words/look";

const List = styled(Menu)`
  background: #fff;
  border: 1px solid var(--ink);
  border-radius: 8px;
  padding: 4px;
  outline: none;
  box-sizing: border-box;
  max-height: inherit;
  max-width: 300px;
  overflow: auto;
  header { padding: 6px 10px 2px; color: var(--ink3); font-size: 12px; }
  section + section { border-top: 1px solid var(--rule); margin-top: 4px; padding-top: 4px; }
`;
const Item = styled(MenuItem)`
  display: block;
  padding: 4px 10px;
  border-radius: 5px;
  cursor: default;
  outline: none;
  color: inherit;
  text-decoration: none;
  overflow-wrap: anywhere;
  &[data-focused] { background: var(--rail); }
  &[data-disabled] { color: var(--ink3); }
  b { display: block; font-weight: 600; }
  small { display: block; color: var(--ink3); }
`;

/** The list of a menu, open below its button, which gets the focus back. */
export function MenuList({ label, groups, placement, trigger, onClose }: {
  label: string;
  groups: MenuGroup[];
  placement: "bottom start" | "bottom end" | "bottom";
  trigger: RefObject<HTMLElement | null>;
  onClose: () => void;
}) {
  const item = (e: MenuEntry, key: string) => (
    <Item key={key} id={key} textValue={e.label} isDisabled={e.disabled} onAction={e.onAction} {...(e.download !== undefined && { href: e.download, download: "" })}>
      {e.note === undefined ? e.label : <><b>{e.label}</b>{e.note && <small>{e.note}</small>}</>}
    </Item>
  );
  const shown = groups.filter((g) => g.entries.length > 0);
  return (
    <Popover aria-label={label} isOpen trigger="MenuTrigger" triggerRef={trigger} placement={placement} maxHeight={430} onOpenChange={(o) => { if (!o) onClose(); }}>
      <List aria-label={label} autoFocus="first" onClose={onClose}>
        {shown.length === 1 && !shown[0]?.title
          ? shown[0]?.entries.map((e, i) => item(e, `0.${i}`))
          : shown.map((g, k) => (
              <MenuSection key={k} aria-label={g.title ?? words.more}>
                {g.title && <Header>{g.title}</Header>}
                {g.entries.map((e, i) => item(e, `${k}.${i}`))}
              </MenuSection>
            ))}
      </List>
    </Popover>
  );
}
