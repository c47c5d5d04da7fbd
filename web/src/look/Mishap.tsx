import { Component, type ReactNode } from "react";
import { Button, Notice } from "./controls";

/** Says so where a page cannot go on, a file of it that cannot be had say, instead of leaving nothing there. */
export class Mishap extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <main style={{ padding: 24 }}>
        <Notice strong>
          <h1>This page cannot go on</h1>
          <p style={{ margin: "7px 0" }}>A part of it could not be fetched, or something in it broke. Your edits are kept; load it again.</p>
          <Button $kind="solid" onPress={() => location.reload()}>Load again</Button>
        </Notice>
      </main>
    );
  }
}
