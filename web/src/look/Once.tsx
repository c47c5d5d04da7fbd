import { useState, type ReactNode } from "react";

/** What is first needed when something is opened, and keeps its state from then on. */
export function Once({ when, children }: { when: boolean; children: ReactNode }) {
  const [opened, setOpened] = useState(when);
  if (when && !opened) setOpened(true);
  return opened && children;
}
