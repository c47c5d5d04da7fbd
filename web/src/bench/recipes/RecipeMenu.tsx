import { useQuery } from "@tanstack/react-query";
import { Header, MenuItem, MenuSection, MenuTrigger, Popover, Separator } from "react-aria-components";
import styled from "styled-components";
import { api, unwrap, type Recipe } from "../../api/client";
import { Button } from "../../look/controls";
import { More } from "../../look/More";

const List = styled(More)`
  max-height: inherit;
  box-sizing: border-box;
  overflow: auto;
  width: 270px;
  > * { padding: 0; }
  header { padding: 6px 10px 2px; color: var(--ink3); font-size: 12px; }
  [role="separator"] { height: 1px; background: var(--rule); margin: 4px 0; border-radius: 0; }
`;
const Item = styled(MenuItem)`
  padding: 4px 10px;
  border-radius: 5px;
  cursor: default;
  outline: none;
  &[data-focused] { background: var(--rail); }
  b { display: block; font-weight: 600; overflow-wrap: anywhere; }
  small { display: block; color: var(--ink3); }
`;

interface Props {
  label: string;
  own: Recipe[];
  onChoose: (r: Recipe) => void;
  onManage?: () => void;
}

/** A menu of the job's own recipes and of those that every job has. */
export function RecipeMenu({ label, own, onChoose, onManage }: Props) {
  const shipped = useQuery({ queryKey: ["recipes"], staleTime: Infinity, queryFn: () => unwrap(api.GET("/api/recipes")) }).data ?? [];
  const item = (r: Recipe) => (
    <Item key={r.id ?? r.name} textValue={r.name} onAction={() => onChoose(r)}>
      <b>{r.name}</b>
      {r.note && <small>{r.note}</small>}
    </Item>
  );
  return (
    <MenuTrigger>
      <Button $kind="quiet">{label}</Button>
      <Popover placement="bottom end" maxHeight={430}>
        <List aria-label={label}>
          {own.length > 0 && <MenuSection><Header>Of this job</Header>{own.map(item)}</MenuSection>}
          <MenuSection><Header>For what recurs</Header>{shipped.map(item)}</MenuSection>
          {onManage && <Separator />}
          {onManage && <Item onAction={onManage}>Recipes of this job…</Item>}
        </List>
      </Popover>
    </MenuTrigger>
  );
}
