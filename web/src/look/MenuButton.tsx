import { useRef, useState, type Ref } from "react";
import { Button } from "./controls";
import { later } from "./later";

/** One thing that can be done from a menu. */
export interface MenuEntry {
  label: string;
  /** What it is for, below the label. */
  note?: string;
  disabled?: boolean;
  onAction?: () => void;
  /** A file to be fetched instead of an action. */
  download?: string;
}

/** Entries that belong together, with what they have in common above them. */
export interface MenuGroup {
  title?: string;
  entries: MenuEntry[];
}

const MenuList = later(() => import("./MenuList").then((m) => m.MenuList));

/** A quiet button that opens a menu; the menu itself comes when it is first opened, or once the page has nothing else to do. */
export function MenuButton(p: {
  /** What the menu is called, where what the button shows is no name. */
  label?: string;
  children: string;
  groups: MenuGroup[];
  placement?: "bottom start" | "bottom end" | "bottom";
  plain?: boolean;
  isDisabled?: boolean;
  low?: boolean;
  ref?: Ref<HTMLButtonElement>;
}) {
  const [open, setOpen] = useState(false);
  const own = useRef<HTMLButtonElement | null>(null);
  const show = () => void MenuList.load().catch(() => undefined).then(() => setOpen(true)); // what cannot be had is said where it is shown
  const fetch = () => void MenuList.load().catch(() => undefined);
  return (
    <>
      <Button
        $kind={p.plain ? "plain" : "quiet"}
        aria-label={p.label}
        aria-haspopup="menu"
        aria-expanded={open}
        isDisabled={p.isDisabled}
        $low={p.low}
        ref={(b: HTMLButtonElement | null) => {
          own.current = b;
          if (typeof p.ref === "function") p.ref(b);
          else if (p.ref) p.ref.current = b;
        }}
        onHoverStart={fetch}
        onFocus={fetch}
        onPress={() => (open ? setOpen(false) : show())}
        onKeyDown={(e) => { if (e.key === "ArrowDown") show(); else e.continuePropagation(); }}
      >
        {p.children}
      </Button>
      {open && (
        <MenuList label={p.label ?? p.children} groups={p.groups} placement={p.placement ?? "bottom end"} trigger={own} onClose={() => setOpen(false)} />
      )}
    </>
  );
}
