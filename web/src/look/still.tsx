import { memo, useInsertionEffect, useState, type ComponentType } from "react";

type Props = Record<string, unknown>;

/**
 * A component that renders anew only where it was given something else; a function counts as the same. It calls what it is given later, for a
 * hand or an answer, never while it renders: what it gets stays, and calls the newest.
 */
export function still<P extends object>(Plain: ComponentType<P>): ComponentType<P> {
  const Kept = memo(Plain) as unknown as ComponentType<P>;
  return function Still(props: P) {
    const [calls] = useState(() => new Calls());
    useInsertionEffect(() => {
      calls.newest = props as Props;
    });
    return <Kept {...(calls.instead(props as Props) as P)} />;
  };
}

class Calls {
  newest: Props = {};
  private readonly made: Props = {};

  instead(props: Props): Props {
    return Object.fromEntries(Object.entries(props).map(([k, v]) => [k, typeof v === "function" ? (this.made[k] ??= (...a: unknown[]) => (this.newest[k] as (...a: unknown[]) => unknown)(...a)) : v]));
  }
}
