import { Check, X } from "lucide-react";
import { useEffect, useState } from "react";
import {
  Button,
  Text,
  UNSTABLE_Toast as Toast,
  UNSTABLE_ToastContent as Content,
  UNSTABLE_ToastQueue as Queue,
  UNSTABLE_ToastRegion as Region,
} from "react-aria-components";
import { styled } from "styled-components";
import { color } from "../theme/tokens";
import { t } from "../words/pages/frame";

const Place = styled(Region<string>)`
  position: fixed;
  inset-block-end: 1.2rem;
  inset-inline-start: 1.5rem;
  z-index: 4;
  max-width: min(34rem, calc(100vw - 3rem));
  outline: none;
`;
const One = styled(Toast<string>)`
  display: flex;
  align-items: center;
  gap: 0.8rem;
  padding: 0.5rem 0.6rem 0.5rem 0.9rem;
  border: 1.5px solid ${color.ink};
  border-left: 6px solid ${color.moss};
  border-radius: 2px;
  background: ${color.sheet};
  &[data-focus-visible] {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
  > svg {
    flex: none;
    color: ${color.moss};
  }
  button {
    display: inline-flex;
    align-items: center;
    justify-content: center;
    flex: none;
    width: 2rem;
    height: 2rem;
    border: 1.5px solid transparent;
    border-radius: 2px;
    background: none;
    color: inherit;
    cursor: pointer;
  }
  button[data-hovered] {
    border-color: ${color.petrol};
  }
`;

/** Long enough to be read; it waits while the pointer or the keyboard is on it. */
const STAYS = 9_000;

export default function ToastList({ says }: { says: string }) {
  const [queue] = useState(() => new Queue<string>());
  useEffect(() => {
    const key = queue.add(says, { timeout: STAYS });
    return () => queue.close(key);
  }, [queue, says]);
  return (
    <Place queue={queue} aria-label={t("what-was-done")}>
      {({ toast }) => (
        <One toast={toast}>
          <Check size={18} aria-hidden />
          <Content>
            <Text slot="title">{toast.content}</Text>
          </Content>
          <Button slot="close" aria-label={t("close")}>
            <X size={16} aria-hidden />
          </Button>
        </One>
      )}
    </Place>
  );
}
