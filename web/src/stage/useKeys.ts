import { useEffect, useSyncExternalStore } from "react";

/** What takes letters itself: text, and lists in which a letter finds an entry. */
const letters = "textarea, select, [contenteditable], [role=listbox], [role=combobox], [role=grid], input:not([type=checkbox], [type=radio], [type=range], [type=button])";

const typing = (e: KeyboardEvent) => e.target instanceof Element && e.target.closest(letters) !== null;

const setting = "episema.single-keys";
const heard = new Set<() => void>();

/** Whether keys without ctrl act anywhere on the bench, or only while the stage has the focus (WCAG 2.1.4). */
const everywhere = () => {
  try {
    return localStorage.getItem(setting) !== "stage";
  } catch {
    return true;
  }
};

export const useSingleKeys = () => useSyncExternalStore((f) => { heard.add(f); return () => { heard.delete(f); }; }, everywhere);

export function setSingleKeys(on: boolean) {
  try {
    localStorage.setItem(setting, on ? "everywhere" : "stage");
  } catch {
    // Where nothing is kept it stays as it is.
  }
  heard.forEach((f) => f());
}

/**
 * Keys of the bench. acts is by key in lower case, brackets by their place so that Alt does not change them;
 * an act that gives false did nothing with the key. held acts go down and up.
 */
export function useKeys(acts: Record<string, (e: KeyboardEvent) => unknown>, held: Record<string, (down: boolean) => void>) {
  useEffect(() => {
    const name = (e: KeyboardEvent) => (e.code === "BracketLeft" ? "[" : e.code === "BracketRight" ? "]" : e.key.toLowerCase());
    const down = (e: KeyboardEvent) => {
      if (typing(e) || document.querySelector("[role=dialog],[role=menu],[role=listbox]")) return;
      const k = name(e);
      const ctrl = e.ctrlKey || e.metaKey;
      if (!ctrl && k !== "escape" && !everywhere() && !(e.target instanceof Element && e.target.closest("[data-stage]"))) return;
      const hold = ctrl ? undefined : held[k];
      if (hold) {
        e.preventDefault();
        if (!e.repeat) hold(true);
        return;
      }
      const act = acts[ctrl ? `ctrl ${k}` : k];
      if (act && act(e) !== false) e.preventDefault();
    };
    const up = (e: KeyboardEvent) => held[name(e)]?.(false);
    const lost = () => Object.values(held).forEach((h) => h(false));
    addEventListener("keydown", down);
    addEventListener("keyup", up);
    addEventListener("blur", lost);
    return () => {
      removeEventListener("keydown", down);
      removeEventListener("keyup", up);
      removeEventListener("blur", lost);
    };
  });
}
