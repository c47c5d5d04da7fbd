import type { Dispatch, RefObject, SetStateAction } from "react";
import type { Compare } from "./stage/comparing";
import { reachSteps, subjects } from "./isolate/gestures";
import { isKind, kinds, type Kind } from "./isolate/kinds";
import type { Isolating } from "./isolate/useIsolate";
import type { Patching } from "./patch/usePatch";
import type { StageHandle } from "./stage/Stage";
import type { Tool } from "./stage/tools";
import type { useEdgeWalk } from "./useEdgeWalk";
import { useKeys } from "../stage/useKeys";
import type { Mending } from "./useMend";
import * as words from "../words/bench";

interface Props {
  stage: RefObject<StageHandle | null>;
  tool: Tool;
  setTool: Dispatch<SetStateAction<Tool>>;
  chooseFace: (f: "isolate" | "colour" | "proof") => void;
  setCompare: Dispatch<SetStateAction<Compare>>;
  setHolding: (on: boolean) => void;
  setLoupe: Dispatch<SetStateAction<boolean>>;
  how: Isolating;
  mend: Mending;
  patching: Patching;
  walk: ReturnType<typeof useEdgeWalk>;
  setPushSize: Dispatch<SetStateAction<number>>;
  onMove: (way: "undo" | "redo") => void;
  onKeys: () => void;
}

const within = (v: number, lo: number, hi: number) => Math.max(lo, Math.min(hi, v));

/** A tip k times as large, by a pixel at least where it grows. */
const resized = (size: number, k: number, most: number) => within(k > 1 ? Math.max(size + 1, Math.round(size * k)) : Math.round(size * k), 2, most);

/** The keys of the bench. */
export function useBenchKeys({ stage, tool, setTool, chooseFace, setCompare, setHolding, setLoupe, how, mend, patching, walk, setPushSize, onMove, onKeys }: Props) {
  const take = (k: Kind) => () => {
    if (document.activeElement === document.body) document.querySelector<HTMLElement>("[data-stage]")?.focus(); // keys go on there
    chooseFace("isolate");
    setTool(k);
  };
  const size = (k: number) => () => {
    if (tool === "mend") mend.setOptions((b) => ({ ...b, size: resized(b.size, k, 300) }));
    else if (tool === "push") setPushSize((s) => within(Math.round(s * k), 20, 400));
    else if (tool === "like") {
      const t = within(Math.round(10 * (how.pick?.tolerance ?? how.options.tolerance) * k + (k > 1 ? 1 : -1)) / 10, 0, 60);
      how.setOptions((b) => ({ ...b, tolerance: t }));
      how.setPick(words.tolerance, { tolerance: t });
    } else how.setOptions((b) => ({ ...b, size: resized(b.size, k, 400) }));
  };
  const reach = (by: number) => () => (tool === "sweep" ? how.setReach(within(how.options.reach + by, -reachSteps, reachSteps)) : false);
  const compare = (c: Compare) => () => setCompare((was) => (was === c ? "now" : c));
  const pick = (t: Tool) => () => setTool((was) => (was === t ? "none" : t));
  useKeys(
    {
      "ctrl z": (e) => onMove(e.shiftKey ? "redo" : "undo"),
      ...Object.fromEntries(Object.entries(kinds).flatMap(([k, v]) => (v.key ? [[v.key.toLowerCase(), take(k as Kind)]] : []))),
      u: () => (tool === "subject" ? how.nextSubject(subjects) : take("subject")()),
      i: () => chooseFace("isolate"),
      c: () => chooseFace("colour"),
      p: () => chooseFace("proof"),
      x: () => how.setOptions((b) => ({ ...b, join: b.join === "add" ? "subtract" : "add" })),
      e: () => how.setOptions((b) => ({ ...b, limit: !b.limit })),
      n: (e) => void walk.step(e.shiftKey ? -1 : 1),
      "[": size(1 / 1.2),
      "]": size(1.2),
      ",": reach(-1),
      ".": reach(1),
      "0": () => stage.current?.fit(),
      "1": () => stage.current?.zoomTo(1),
      "+": () => stage.current?.zoomBy(1.25),
      "=": () => stage.current?.zoomBy(1.25),
      "-": () => stage.current?.zoomBy(0.8),
      "?": onKeys,
      enter: (e) => (how.drawing && e.target instanceof HTMLCanvasElement ? how.closeOutline() : false),
      escape: () => {
        if (walk.walk) walk.end();
        else if (tool === "patch" && patching.patch) patching.open(undefined);
        else if (!how.leave()) setTool((t) => (isKind(t) ? t : "none"));
      },
      w: compare("split"),
      q: compare("pair"),
      k: compare("blink"),
      g: () => setLoupe((on) => !on),
      y: pick("sample"),
      a: pick("match"),
      f: () => {
        chooseFace("proof");
        patching.open(undefined);
        setTool("patch");
      },
      j: () => {
        chooseFace("proof");
        setTool("mend");
      },
    },
    { v: setHolding },
  );
}
