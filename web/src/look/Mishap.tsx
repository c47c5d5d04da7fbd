import { Component, type ReactNode } from "react";
import { Button, Notice } from "./controls";
import styled from "styled-components";
import * as words from "../words/look";

const Page = styled.main`padding: 24px;`;
const Line = styled.p`margin: 7px 0;`;

/** Says so where a page cannot go on, a file of it that cannot be had say, instead of leaving nothing there. */
export class Mishap extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <Page>
        <Notice strong>
          <h1>{words.thisPageCannotGoOn}</h1>
          <Line>{words.aPartOfItCouldNot}</Line>
          <Button $kind="solid" onPress={() => location.reload()}>{words.loadAgain}</Button>
        </Notice>
      </Page>
    );
  }
}
