import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { useStuck, useUnsent } from "../bench/unsentWork";
import * as words from "../words/look";

const Line = styled.div`
  position: fixed;
  left: 14px;
  bottom: 14px;
  z-index: 20;
  max-width: min(560px, calc(100vw - 28px));
  padding: 8px 12px;
  background: var(--card);
  border: 1px solid var(--ink);
  border-radius: 4px;
`;

/** How long something may be on its way before it is worth a sentence, in milliseconds. */
const worthSaying = 1000;

/** Says on every page while the server does not have everything yet. */
export function Unstored() {
  const queries = useQueryClient();
  const n = useUnsent();
  const stuck = useStuck();
  const [late, setLate] = useState(false);
  const before = useRef(0);
  const some = n > 0;
  useEffect(() => {
    if (!some) return;
    const t = setTimeout(() => setLate(true), worthSaying);
    return () => {
      clearTimeout(t);
      setLate(false);
    };
  }, [some]);
  useEffect(() => {
    // What a page shows of a picture that was left is of what is stored now.
    if (before.current > 0 && n === 0) void queries.invalidateQueries({ queryKey: ["job"] });
    before.current = n;
  }, [n, queries]);
  return (
    <div role="status">
      {stuck > 0 && !(some && late) && <Line data-stuck={stuck}>{words.stuckEdits(stuck)}</Line>}
      {some && late && <Line data-unstored={n}>{words.unstoredEdits(n)}</Line>}
    </div>
  );
}
