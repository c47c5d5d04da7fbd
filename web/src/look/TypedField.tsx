import type { ComponentPropsWithRef } from "react";
import styled from "styled-components";
import { fieldLook } from "./Field";

interface Props extends Omit<ComponentPropsWithRef<"input">, "value" | "defaultValue" | "onBlur" | "onKeyDown"> {
  value: string;
  /** What the text means as it is kept, or nothing where it means nothing: then the value stays. Left out, any text that is not empty. */
  read?: (text: string) => string | undefined;
  onValue: (value: string) => void;
  /** It was left, with another value or not. */
  onLeave?: () => void;
  /** All of it is selected as it is entered. */
  chosen?: boolean;
}

const trimmed = (text: string) => text.trim() || undefined;

/** A number from least to most as it is typed, with a point or a comma; to be read by a typed field. */
export const numberFrom = (least: number, most: number) => (text: string) => {
  const v = Number.parseFloat(text.replace(",", ".").replace("−", "-"));
  return v >= least && v <= most ? String(v) : undefined;
};

/** Typed text that counts once it is left or Enter is pressed; Escape puts back what was there, and so does what cannot be read. */
export function TypedInput({ value, read = trimmed, onValue, onLeave, chosen, ...rest }: Props) {
  return (
    <input
      maxLength={200}
      {...rest}
      key={value}
      defaultValue={value}
      onFocus={(e) => { if (chosen) e.currentTarget.select(); }}
      onBlur={(e) => {
        const v = read(e.target.value);
        if (v === undefined || v === value) e.target.value = value;
        else onValue(v);
        onLeave?.();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") e.currentTarget.value = value;
        if (e.key === "Escape" || e.key === "Enter") e.currentTarget.blur();
      }}
    />
  );
}

export const TypedField = styled(TypedInput)`${fieldLook}`;
/** The name of a thing in a list while it is being renamed. */
export const NameField = styled(TypedInput).attrs({ autoFocus: true, chosen: true })`
  width: 100%;
  border: 1px solid var(--ink);
  border-radius: 4px;
  padding: 1px 5px;
  font-weight: 600;
`;
/** One for a line in which there is little room. */
export const LowField = styled(TypedField)`padding: 1px 4px;`;
