import type { ReactNode } from "react";
import { Dialog as AriaDialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";

const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgba(20, 20, 20, 0.42);
  display: grid;
  place-items: center;
  z-index: 20;
`;
const Sheet = styled(Modal)`
  background: var(--card);
  border: 1px solid var(--ink);
  border-radius: 10px;
  width: min(560px, calc(100vw - 40px));
  max-height: calc(100vh - 60px);
  overflow: auto;
`;
const Body = styled(AriaDialog)`
  padding: 18px 20px;
  outline: none;
  display: grid;
  gap: 14px;
`;
const Title = styled(Heading)`
  font-size: 17px;
  font-weight: 660;
  font-stretch: 90%;
`;

export function Dialog(p: { title: string; open: boolean; onClose: () => void; children: ReactNode }) {
  return (
    <Veil isOpen={p.open} onOpenChange={(o) => { if (!o) p.onClose(); }} isDismissable>
      <Sheet>
        <Body>
          <Title slot="title">{p.title}</Title>
          {p.children}
        </Body>
      </Sheet>
    </Veil>
  );
}
