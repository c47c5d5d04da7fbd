import { memo, type ReactNode } from "react";
import { Button as AriaButton, ToggleButton, ToggleButtonGroup, type ButtonProps, type Key as ItemKey } from "react-aria-components";
import styled, { css } from "styled-components";
import { useStable } from "./useStable";

/** A button. One that holds a tool, or another thing that lasts until it is pressed again, says so by held. */
export const Button = styled(AriaButton)<ButtonProps & { $kind?: "solid" | "plain" | "quiet"; $low?: boolean; $held?: boolean }>`
  border-radius: var(--round);
  border: 1px solid var(--edge);
  background: var(--white);
  min-height: 24px;
  min-width: 24px;
  padding: 5px 12px;
  font-weight: 500;
  cursor: default;
  white-space: nowrap;
  &[data-hovered] { border-color: var(--ink); }
  &[data-pressed] { background: var(--rail); }
  &[data-disabled] { color: #9a9a9a; border-color: #e4e4e4; }
  ${(p) => p.$kind === "solid" && css`
    background: var(--ink); color: #fff; border-color: var(--ink); font-weight: 600; padding: 6px 14px;
    &[data-hovered] { background: #303030; }
    &[data-pressed] { background: #000; }
    &[data-disabled] { background: #9a9a9a; color: #fff; border-color: #9a9a9a; }
  `}
  ${(p) => p.$kind === "quiet" && css`
    background: none; border-color: transparent; color: var(--ink2); padding: 5px 7px;
    &[data-hovered] { background: var(--rail); border-color: transparent; }
    &[data-disabled] { border-color: transparent; }
  `}
  ${(p) => p.$low && css`padding: 2px 5px;`}
  ${(p) => p.$held && css`
    background: var(--ink); color: #fff; border-color: var(--ink);
    &[data-hovered] { background: #303030; }
  `}
`;

const Group = styled(ToggleButtonGroup)`
  display: inline-flex;
  border: 1px solid var(--edge);
  border-radius: var(--round);
  max-width: 100%;
  overflow: auto hidden;
  background: var(--white);
`;
const Item = styled(ToggleButton)<{ $small?: boolean }>`
  border: 0;
  border-left: 1px solid var(--rule);
  background: none;
  min-height: 24px;
  min-width: 26px; // a hand needs 24 by 24
  padding: ${(p) => (p.$small ? "2px 9px" : "5px 11px")};
  font-size: ${(p) => (p.$small ? "12px" : "13px")};
  color: var(--ink2);
  cursor: default;
  &:first-child { border-left: 0; }
  &[data-hovered] { background: var(--rail); }
  &[data-selected] { background: var(--ink); color: #fff; }
  &[data-focus-visible] { outline-offset: -3px; outline-color: currentColor; }
`;

interface SegmentedProps<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
  small?: boolean;
}

/** One of a few, side by side. */
export function Segmented<T extends string>(p: SegmentedProps<T>) {
  return <Segments {...(p as unknown as SegmentedProps<string>)} onChange={useStable(p.onChange as (v: string) => void)} />;
}

// Drawn anew only where something about it changed: rows of these stand beside sliders that a hand drags.
const Segments = memo(function Segments(p: SegmentedProps<string>) {
  return (
    <Group
      aria-label={p.label}
      selectionMode="single"
      disallowEmptySelection
      selectedKeys={[p.value]}
      onSelectionChange={(k: Set<ItemKey>) => {
        const v = [...k][0];
        if (v !== undefined) p.onChange(String(v));
      }}
    >
      {p.options.map(([id, text]) => (
        <Item key={id} id={id} $small={p.small}>
          {text}
        </Item>
      ))}
    </Group>
  );
}, (a, b) => a.label === b.label && a.value === b.value && a.small === b.small && String(a.options) === String(b.options));

export const Bar = styled.header`
  display: flex;
  align-items: center;
  gap: 4px 14px;
  min-height: 44px;
  padding: 0 14px;
  > * { flex-shrink: 0; }
  > nav { flex: 0 1 auto; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  @media (max-width: 900px) { flex-wrap: wrap; padding: 6px 14px; }
  border-bottom: 1px solid var(--rule);
  background: var(--card);
  flex: none;
`;
export const Space = styled.span`flex: 1;`;
export const Heading = styled.h3`
  font-size: 12px;
  font-weight: 600;
  color: var(--ink2);
  margin-top: 3px;
`;

const Note = styled.div<{ $strong?: boolean }>`
  border: 1px ${(p) => (p.$strong ? "solid var(--ink)" : "dashed var(--ink3)")};
  border-radius: var(--round);
  background: var(--white);
  padding: 8px 11px;
  font-size: 12.5px;
  overflow-wrap: anywhere;
`;
/** Says something that matters now; read out by screen readers. */
export function Notice({ children, strong }: { children: ReactNode; strong?: boolean }) {
  return (
    <Note role={strong ? "alert" : "status"} $strong={strong}>
      {children}
    </Note>
  );
}

export const Key = styled.kbd`
  font: 11px var(--figures);
  border: 1px solid currentColor;
  border-radius: 4px;
  padding: 0 5px;
`;
