import { useEffect, useRef } from "react";
import { styled } from "styled-components";
import type { Frame } from "#server/checkouts/view";
import { useNonce } from "../nonce";
import { color } from "../theme/tokens";

const Embedded = styled.iframe`
  display: block;
  width: 100%;
  height: 22.5rem;
  border: 0;
  background: #fff;
  color-scheme: light;
`;
const Note = styled.p`
  margin-top: 0.6rem;
  font-size: 0.9rem;
  color: ${color.inkSoft};
`;

declare global {
  interface Window {
    /** What was said before this page was awake; null once it listens itself. */
    saidEarly?: MessageEvent<unknown>[] | null;
  }
}

// A card is sometimes typed (or filled in by the browser) faster than a slow phone wakes this page. Its token comes
// once only, so it is kept until somebody listens.
const listenEarly = "saidEarly=[];addEventListener('message',function(e){saidEarly&&saidEarly.push(e)})";

/**
 * The provider's own frame. Card data stays in it; a message with a one-time token comes out, and only one from
 * the frame's own window and origin is believed.
 */
export function CardFrame({
  frame,
  title,
  note,
  onToken,
}: {
  frame: Frame;
  title: string;
  note: string;
  onToken: (token: string) => void;
}) {
  const own = useRef<HTMLIFrameElement>(null);
  const nonce = useNonce();
  useEffect(() => {
    const onMessage = (event: MessageEvent<unknown>) => {
      if (event.origin !== frame.origin || event.source !== own.current?.contentWindow) return;
      if (typeof event.data !== "object" || event.data === null) return;
      const message = event.data as Record<string, unknown>;
      if (!Object.entries(frame.match).every(([key, value]) => message[key] === value)) return;
      const token = message[frame.token];
      if (typeof token === "string") onToken(token);
    };
    window.addEventListener("message", onMessage);
    window.saidEarly?.forEach(onMessage);
    window.saidEarly = null;
    return () => window.removeEventListener("message", onMessage);
  }, [frame, onToken]);
  return (
    <div>
      <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: listenEarly }} />
      <Embedded ref={own} src={frame.src} title={title} />
      <Note>{note}</Note>
    </div>
  );
}
