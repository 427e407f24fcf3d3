import { useState } from "react";
import { Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { Button } from "./form";
import { Row, Stack } from "./sheet";

const Over = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  display: grid;
  place-items: center;
  padding: 1rem;
  background: rgb(0 0 0 / 0.35);
  z-index: 20;
`;
const Box = styled(Modal)`
  width: min(30rem, 100%);
  background: ${color.sheet};
  border: 2px solid ${color.ink};
  padding: 1.2rem 1.4rem;
`;

/** Asks before something is lost. The question names what is lost; `children` are the answers. */
export function Ask({
  title,
  says,
  children,
  onClose,
}: {
  title: string;
  says: React.ReactNode;
  children: React.ReactNode;
  onClose: () => void;
}) {
  return (
    <Over isOpen isDismissable onOpenChange={(open) => !open && onClose()}>
      <Box>
        <Dialog role="alertdialog">
          <Stack>
            <Heading slot="title">{title}</Heading>
            <div>{says}</div>
            <Row>{children}</Row>
          </Stack>
        </Dialog>
      </Box>
    </Over>
  );
}

/** A press that takes something away: it asks first, and only the yes does it. */
export function AskFirst({
  label,
  name,
  kind = "bare",
  disabled,
  title,
  says,
  yes,
  no,
  onYes,
}: {
  label: string;
  /** What the press is called for people who do not see what it stands beside. */
  name?: string;
  kind?: "bare" | "plain" | "danger";
  disabled?: boolean;
  title: string;
  says: string;
  yes: string;
  no: string;
  onYes: () => void;
}) {
  const [asking, setAsking] = useState(false);
  const close = () => setAsking(false);
  return (
    <>
      <Button
        type="button"
        $kind={kind}
        onClick={() => setAsking(true)}
        disabled={disabled}
        aria-label={name}
      >
        {label}
      </Button>
      {asking && (
        <Ask title={title} says={says} onClose={close}>
          <Button
            type="button"
            $kind="danger"
            onClick={() => {
              close();
              onYes();
            }}
          >
            {yes}
          </Button>
          <Button type="button" onClick={close}>
            {no}
          </Button>
        </Ask>
      )}
    </>
  );
}
