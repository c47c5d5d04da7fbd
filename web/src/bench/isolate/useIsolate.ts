import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, explain, unwrap, type Document, type Part, type Pick } from "../../api/client";
import { newPart, nextName } from "../parts";
import type { Tool } from "../stage/tools";
import { useInTurn } from "../../look/useInTurn";
import { useStable } from "../../look/useStable";
import { kinds, type Kind } from "./kinds";
import { current, defaults, reachAt, thinned, withMark, withReach, withSample, withStroke, type Gesture, type Made, type Options, type Point } from "./gestures";
import { closeBy, drawnOn, placed, type Node } from "./nodes";
import * as words from "../../words/picks";

interface Props {
  picture: string;
  document: Document;
  part?: Part;
  tool: Tool;
  edit: (label: string, change: (d: Document) => Document) => void;
  setDraft: (d: Document | undefined) => void;
  /** Shows a document on the stage while a stroke is drawn. */
  preview: (d?: Document, part?: string) => void;
  setAt: (id: string) => void;
  onProblem: (message: string | undefined) => void;
}

/** What hands do on the stage while a part is isolated, turned into its picks. */
export function useIsolate(p: Props) {
  const [options, setOptions] = useState<Options>(defaults);
  const [opened, setOpened] = useState<number>();
  const [nodes, setNodes] = useState<Node[]>(); // an outline of fewer than three nodes
  const [drawing, setDrawing] = useState(false); // the opened outline still takes nodes
  const [ring, setRing] = useState<Point[]>(); // waits for a stroke inside
  const fresh = useRef<Part | undefined>(undefined);
  const begun = useRef<string | undefined>(undefined);
  const inTurn = useInTurn();
  const { document, part, tool, edit, setDraft, preview, setAt, onProblem } = p;

  const opening = useRef<number | undefined>(undefined);
  const list = useRef(part?.picks);
  useEffect(() => {
    list.current = part?.picks;
  });
  useEffect(() => {
    // The part that the first gesture made: what it began goes on.
    if (part?.id && (part.id === begun.current || part.id === fresh.current?.id)) return;
    begun.current = undefined;
    const i = opening.current;
    opening.current = undefined;
    setOpened(i !== undefined && list.current?.[i]?.kind === tool ? i : undefined);
    setNodes(undefined);
    setDrawing(false);
    setRing(undefined);
    const last = (list.current?.length ?? 0) - 1;
    setOptions((b) => ({ ...b, reach: list.current?.[last]?.kind === "sweep" ? reachAt(list.current, last) : 0 }));
  }, [part?.id, tool]);

  /** The document with the picks of the part at hand changed; without a part, one is made. */
  const change = useCallback(
    (d: Document, how: (picks: Pick[]) => Made | undefined, first: Part): { document: Document; at: number; id: string } | undefined => {
      const into = d.parts.find((q) => q.id === first.id);
      const base = into ?? first;
      const made = how(base.picks);
      if (!made) return undefined;
      const next = { ...base, picks: made.picks };
      return { document: { ...d, parts: into ? d.parts.map((q) => (q.id === next.id ? next : q)) : [...d.parts, next] }, at: made.at, id: base.id };
    },
    [],
  );

  const apply = useCallback(
    (label: string, done: boolean, how: (picks: Pick[]) => Made | undefined, stroke = false) => {
      // Whatever the edit is made on top of, it is the same new part.
      const first = part ?? (fresh.current ??= newPart(nextName(document)));
      const made = change(document, how, first);
      if (done) {
        preview();
        setDraft(undefined);
      }
      if (!made) return false;
      if (!done) {
        if (stroke) preview(made.document, made.id);
        else setDraft(made.document);
        return true;
      }
      edit(label, (d) => change(d, how, first)?.document ?? d);
      if (made.id === fresh.current?.id) begun.current = made.id;
      setAt(made.id);
      setOpened(made.at);
      fresh.current = undefined;
      return true;
    },
    [change, document, part, edit, setDraft, preview, setAt],
  );

  /** Changes the opened pick, or the one that the tool's next gesture would go into. */
  const picks = useMemo(() => part?.picks ?? [], [part?.picks]);
  const at = tool in kinds ? current(picks, opened, tool as Kind) : undefined;
  const pick = at === undefined ? undefined : picks[at];

  const setPick = useCallback(
    (label: string, what: Partial<Pick>, done = true) => {
      if (at === undefined) return;
      apply(label, done, (list) => ({ picks: list.map((q, i) => (i === at ? { ...q, ...what } : q)), at }));
    },
    [apply, at],
  );

  /** How far Sweep reaches, in steps; of the pick at hand, and of a stroke that is being drawn. */
  const setReach = useCallback(
    (steps: number, done = true) => {
      setOptions((b) => ({ ...b, reach: steps }));
      if (at !== undefined && tool === "sweep") apply(words.reachLow, done, (list) => ({ picks: withReach(list, at, steps), at }));
    },
    [apply, at, tool],
  );

  /** Offers the next of what Subject may mean; the first key finds the subject. */
  const nextSubject = useCallback(
    (most: number) => {
      if (at !== undefined && pick?.kind === "subject") setPick(words.anotherSubject, { candidate: (((pick.candidate ?? 0) + 1) % most) || undefined });
    },
    [at, pick, setPick],
  );

  /** Adds a pick as it is. */
  const addPick = useCallback((label: string, next: Pick) => apply(label, true, (list) => ({ picks: [...list, next], at: list.length })), [apply]);

  const band = useCallback(
    async (of: "hues" | "tones" | "depth", points: Point[]) => {
      try {
        const b = await inTurn(unwrap(api.POST("/api/pictures/{picture}/band", { params: { path: { picture: p.picture } }, body: { of, points } })));
        onProblem(undefined);
        apply(words.alongAStroke(of), true, (list) => {
          const i = current(list, opened, of);
          const into = i === undefined ? undefined : list[i];
          if (i !== undefined && into) return { picks: list.map((q, j) => (j === i ? { ...q, from: b.from, to: b.to } : q)), at: i };
          return { picks: [...list, { kind: of, join: options.join, ...b }], at: list.length };
        });
      } catch (e) {
        onProblem(explain(e));
      }
    },
    [p.picture, apply, opened, options.join, onProblem, inTurn],
  );

  const setOutline = useCallback(
    (next: Node[], done: boolean, label: string) => {
      if (nodes) {
        if (done) setNodes(next);
        return;
      }
      setPick(label, { nodes: next }, done);
    },
    [nodes, setPick],
  );

  /** Goes on with the outline that is being drawn, or begins one. */
  const goOn = useCallback(
    (more: (nodes: Node[]) => { nodes: Node[]; closed: boolean }) => {
      if (drawing && pick?.nodes) {
        const closes = more(pick.nodes).closed;
        apply(words.addToAnOutline, true, (list) => {
          const i = current(list, opened, "outline");
          const into = i === undefined ? undefined : list[i];
          return i === undefined || !into ? undefined : { picks: list.map((q, j) => (j === i ? { ...q, nodes: more(q.nodes ?? []).nodes } : q)), at: i };
        });
        if (closes) setDrawing(false);
        return;
      }
      const next = more(nodes ?? []);
      if (next.nodes.length < 3) {
        setNodes(next.nodes);
        return;
      }
      setNodes(undefined);
      setDrawing(!next.closed);
      apply(words.drawAnOutline, true, (list) => ({ picks: [...list, { kind: "outline", join: options.join, nodes: next.nodes, ...(options.snap ? { snap: true } : {}) }], at: list.length }));
    },
    [apply, drawing, nodes, opened, options.join, options.snap, pick?.nodes],
  );

  // By the time a piece is fitted, one before it may have changed what it goes on with; of another part it does not become one.
  const onward = useStable((of: string | undefined, was: typeof goOn, more: Parameters<typeof goOn>[0]) => { (of === part?.id ? goOn : was)(more); });

  /** A piece of outline drawn by hand; a CSS pixel is so many pixels of the picture. */
  const drawn = useCallback(
    async (points: Point[], pixel: number) => {
      try {
        const fitted = await inTurn(unwrap(api.POST("/api/outline", { body: { points, error: Math.max(0.05, 1.5 * pixel) } })));
        onProblem(undefined);
        onward(part?.id, goOn, (at) => drawnOn(at, fitted, closeBy * pixel));
      } catch (e) {
        onProblem(explain(e));
      }
    },
    [part?.id, goOn, onward, onProblem, inTurn],
  );

  const gesture = useCallback(
    (g: Gesture) => {
      const freehand = g.kind === "stroke" ? (g.stroke.points as Point[]) : [];
      switch (tool) {
        case "sweep":
        case "brush":
          if (g.kind === "stroke") apply(words.toolStroke(tool), g.done, (list) => withStroke(list, opened, tool, options, g.stroke, g.alt), true);
          return;
        case "like":
          if (g.kind !== "stroke" && g.done) apply(g.kind === "click" && g.alt ? words.colourItIsNot : words.sampleAColour, true, (list) => withSample(list, opened, options, g));
          return;
        case "marks": {
          if (g.kind !== "stroke") return;
          const open = current(picks, opened, "marks") !== undefined;
          if (!open && !ring) {
            if (!g.done) setRing(undefined);
            else if (freehand.length > 2) setRing(thinned(freehand, 6));
            return;
          }
          if (apply(words.mark, g.done, (list) => withMark(list, opened, options, ring, g.stroke, g.alt !== (options.join === "subtract" && !ring)), true) && g.done) setRing(undefined);
          return;
        }
        case "outline": {
          if (!g.done) return;
          if (g.kind === "stroke") {
            void drawn(freehand, (2 * g.stroke.radius) / options.size);
            return;
          }
          const from = g.kind === "click" ? g.at : g.from;
          const node = placed(from, g.kind === "box" ? g.to : from, g.kind === "box");
          goOn((at) => ({ nodes: [...at, node], closed: false }));
          return;
        }
        case "hues":
        case "tones":
        case "depth":
          if (g.kind === "stroke" && g.done) void band(tool, thinned(freehand, 3));
          return;
        default: // what other tools do is none of a pick's business
          return;
      }
    },
    [tool, apply, opened, options, picks, ring, band, drawn, goOn],
  );

  /** Leaves what is half done: Esc. */
  const leave = useCallback(() => {
    if (nodes || ring || drawing) {
      setNodes(undefined);
      setRing(undefined);
      setDrawing(false);
      return true;
    }
    if (opened !== undefined) {
      setOpened(undefined);
      return true;
    }
    return false;
  }, [nodes, ring, drawing, opened]);

  /** Opens a pick of the kind of the tool that is, or is about to be, at hand. */
  const open = (i: number) => {
    opening.current = i;
    setOpened(i);
  };

  return { options, setOptions, open, pick, at, nodes, ring, drawing, closeOutline: () => setDrawing(false), newRing: () => { setOpened(-1); setRing(undefined); }, setOutline, setPick, setReach, nextSubject, addPick, gesture, leave };
}

export type Isolating = ReturnType<typeof useIsolate>;
