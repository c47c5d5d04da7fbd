import { useContext, useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { api, explain, untilAnswered, unwrap } from "../../api/client";
import { Notice } from "../../look/controls";
import { Field } from "../../look/Field";
import { still } from "../../look/still";
import { ByEye } from "./ByEye";
import { Looking } from "./looking";
import { isRelative } from "./relative";
import * as words from "../../words/colour";

/** A label, a field, and room for a button. */
export const Line = styled.div`
  display: grid;
  grid-template-columns: 84px 1fr auto;
  gap: 9px;
  align-items: center;
`;

/** The field, and beside it the disc of its colour, which opens the planes. */
const Both = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px;
  align-items: center;
`;

/** A field that takes any CSS Color 4 notation; a wrong one says why and the last good one stays. */
export const ColourField = still(function ColourField(p: { label: string; value: string; placeholder: string; onColour: (css: string) => void; onDrag?: (css: string) => void; onClear?: () => void; row?: number; own?: string; relative?: boolean }) {
  const [typed, setTyped] = useState(p.value);
  const [problem, setProblem] = useState<string>();
  const newest = useRef(0);
  const { job } = useContext(Looking);
  useEffect(() => {
    setTyped(p.value);
    setProblem(undefined);
  }, [p.value]);
  const commit = async () => {
    const css = typed.trim();
    if (css === p.value) {
      setProblem(undefined);
      return;
    }
    // What starts from the thing's own colour is read with it.
    const from = p.relative && isRelative(css) ? { own: p.own ?? "#808080" } : {};
    if (css === "") {
      setProblem(undefined);
      if (p.onClear) p.onClear();
      else setTyped(p.value);
      return;
    }
    try {
      const mine = ++newest.current;
      await untilAnswered(setProblem, () => unwrap(api.GET("/api/colour", { params: { query: { css, ...(job ? { job } : {}), ...from } } })));
      if (mine !== newest.current) return; // something else was typed meanwhile
      setProblem(undefined);
      p.onColour(css);
    } catch (e) {
      setProblem(explain(e));
    }
  };
  return (
    <>
      <Both>
        <Field
          aria-label={p.label}
          aria-invalid={problem ? true : undefined}
          value={typed}
          placeholder={p.placeholder}
          title={typed}
          spellCheck={false}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => void commit()}
          onKeyDown={(e) => {
            if (e.key === "Enter") void commit();
            if (e.key === "Escape") {
              setTyped(p.value);
              setProblem(undefined);
            }
          }}
        />
        <ByEye label={p.label} value={p.value} own={p.own} relative={p.relative} onDrag={p.onDrag} onColour={p.onColour} />
      </Both>
      {problem && (
        <div style={{ gridColumn: "1 / -1", gridRow: p.row ?? 2 }}>
          <Notice strong>{problem.charAt(0).toUpperCase() + problem.slice(1)}. {p.value ? words.theColourStaysAsItWas : words.nothingWasChanged}</Notice>
        </div>
      )}
    </>
  );
});
