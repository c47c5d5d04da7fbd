import { useEffect } from "react";

const typing = (e: KeyboardEvent) => e.target instanceof HTMLInputElement && e.target.type === "text";

/**
 * Keys of the bench. acts is by key in lower case, brackets by their place so that Alt does not change them;
 * an act that gives false did nothing with the key. held acts go down and up.
 */
export function useKeys(acts: Record<string, (e: KeyboardEvent) => unknown>, held: Record<string, (down: boolean) => void>) {
  useEffect(() => {
    const name = (e: KeyboardEvent) => (e.code === "BracketLeft" ? "[" : e.code === "BracketRight" ? "]" : e.key.toLowerCase());
    const down = (e: KeyboardEvent) => {
      if (typing(e) || document.querySelector("[role=dialog],[role=menu]")) return;
      const k = name(e);
      const ctrl = e.ctrlKey || e.metaKey;
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
