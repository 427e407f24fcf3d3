import { type RefObject, useEffect, useRef, useState } from "react";
import { styled } from "styled-components";
import type { Frame } from "#server/checkouts/view";
import { useNonce } from "../nonce";
import { Button } from "../parts/form";
import { color } from "../theme/tokens";
import type { Fill } from "./instruments";
import type { CheckoutWords } from "./words";

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

const Away = styled.div`
  display: grid;
  justify-items: start;
  gap: 0.5rem;
  padding: 0.8rem;
  border-inline-start: 4px solid ${color.madder};
  background: ${color.madderSoft};
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

/** How long the provider's form may take to come before another way is offered, milliseconds. */
const PATIENCE = 5_000;

/** Whether the address of a frame answers at all: a frame itself never tells. */
async function comes(src: string): Promise<boolean> {
  try {
    await fetch(src, { mode: "no-cors", credentials: "omit", signal: AbortSignal.timeout(PATIENCE) });
    return true;
  } catch {
    return false;
  }
}

/**
 * The provider's own frame. Card data stays in it; a message with a one-time token comes out, and only one from
 * the frame's own window and origin is believed. One that does not come says so, and can be asked for again.
 */
export function CardFrame({
  frame,
  title,
  words,
  filling,
  onToken,
}: {
  frame: Frame;
  /** Set to what fills the frame in, where it takes that. */
  filling: RefObject<((fill: Fill) => void) | null>;
  title: string;
  words: CheckoutWords;
  onToken: (token: string) => void;
}) {
  const own = useRef<HTMLIFrameElement>(null);
  const nonce = useNonce();
  const [tries, setTries] = useState(0);
  const [gone, setGone] = useState(false);
  useEffect(() => {
    let left = false;
    void comes(frame.src).then((here) => !left && setGone(!here));
    return () => {
      left = true;
    };
  }, [frame.src, tries]);
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
  useEffect(() => {
    const { fill, origin } = frame;
    if (!fill) return;
    filling.current = (values) =>
      own.current?.contentWindow?.postMessage({ ...fill.message, [fill.values]: values }, origin);
    return () => {
      filling.current = null;
    };
  }, [frame, filling]);
  return (
    <div>
      <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: listenEarly }} />
      {gone ? (
        <Away role="alert">
          <strong>{words.noFrame}</strong>
          <p>{words.noFrameSays}</p>
          <Button
            type="button"
            onClick={() => {
              setGone(false);
              setTries(tries + 1);
            }}
          >
            {words.tryFrame}
          </Button>
        </Away>
      ) : (
        <Embedded ref={own} src={frame.src} title={title} key={tries} />
      )}
      <Note>{words.frameNote}</Note>
    </div>
  );
}
