import { SignButton } from "./SignButton";
import * as words from "../words/look";

const sign = (path: string) => <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden><path d={path} fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinecap="round" strokeLinejoin="round" /></svg>;
const signs = { undo: sign("M5.5 3 2.5 6l3 3M3 6h6.5a3.5 3.5 0 0 1 0 7H7"), redo: sign("m10.5 3 3 3-3 3M13 6H6.5a3.5 3.5 0 0 0 0 7H9") };

/** Undo and redo, each with the name of the step that it would take; the same on every page. */
export function UndoRedo(p: { undo?: string; redo?: string; onMove: (way: "undo" | "redo") => void }) {
  const one = (way: "undo" | "redo", word: string, step: string | undefined) => (
    <SignButton says={step ? `${word} ${step}` : word} isDisabled={!step} onPress={() => p.onMove(way)}>
      {signs[way]}
    </SignButton>
  );
  return <>{one("undo", words.undo, p.undo)}{one("redo", words.redo, p.redo)}</>;
}
