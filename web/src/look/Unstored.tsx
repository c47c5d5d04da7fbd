import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { useStuck, useUnsent } from "../bench/unsentWork";

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
      {stuck > 0 && !(some && late) && <Line data-stuck={stuck}>A picture was changed elsewhere while you worked on it: {stuck === 1 ? "1 edit waits" : `${stuck} edits wait`} until you open it and say whose stay. Orders are without {stuck === 1 ? "it" : "them"}.</Line>}
      {some && late && <Line data-unstored={n}>{n === 1 ? "1 edit is" : `${n} edits are`} not stored yet. {n === 1 ? "It is" : "They are"} kept here and sent again until the server answers; orders wait for {n === 1 ? "it" : "them"}.</Line>}
    </div>
  );
}
