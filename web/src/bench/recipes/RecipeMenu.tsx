import { useQuery } from "@tanstack/react-query";
import { api, unwrap, type Recipe } from "../../api/client";
import { MenuButton, type MenuEntry } from "../../look/MenuButton";
import * as words from "../../words/bench";

interface Props {
  label: string;
  own: Recipe[];
  onChoose: (r: Recipe) => void;
  onManage?: () => void;
}

/** A menu of the job's own recipes and of those that every job has. */
export function RecipeMenu({ label, own, onChoose, onManage }: Props) {
  const shipped = useQuery({ queryKey: ["recipes"], staleTime: Infinity, queryFn: () => unwrap(api.GET("/api/recipes")) }).data ?? [];
  const entry = (r: Recipe): MenuEntry => ({ label: r.name, note: r.note ?? "", onAction: () => onChoose(r) });
  return (
    <MenuButton
      groups={[
        { title: words.ofThisJob, entries: own.map(entry) },
        { title: words.forWhatRecurs, entries: shipped.map(entry) },
        { entries: onManage ? [{ label: words.recipesOfThisJob, onAction: onManage }] : [] },
      ]}
    >
      {label}
    </MenuButton>
  );
}
