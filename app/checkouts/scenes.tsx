import { useEffect, useRef, useState } from "react";
import { Form, Link } from "react-router";
import { styled } from "styled-components";
import type { ScanCode } from "#core/scan-code";
import type { HandOver } from "#server/checkouts/view";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Row, Small, Stack } from "../parts/sheet";
import { useInBrowser } from "../parts/when";
import { Card } from "./checkout-view";
import type { CheckoutWords } from "./words";

const Code = styled.svg`
  width: min(15rem, 100%);
  background: #fff;
  color: #000;
  justify-self: center;
`;

/** The shopper goes on at the bank or at the payment service; what happens there is followed here, in whichever tab. */
export function Onward({
  scene,
  words,
}: {
  scene: { address: string; handOver: HandOver | null; at: "bank" | "service" };
  words: CheckoutWords;
}) {
  useLive(true, 2_000);
  const bank = scene.at === "bank";
  return (
    <Card role="status">
      <Stack>
        <h2>{bank ? words.challenge : words.onward}</h2>
        <p>{bank ? words.challengeSays : words.onwardSays}</p>
        {scene.handOver ? (
          <HandOverForm address={scene.address} fields={scene.handOver}>
            {bank ? words.toBank : words.goOn}
          </HandOverForm>
        ) : (
          <Button as="a" href={scene.address} $kind="main">
            {bank ? words.toBank : words.goOn}
          </Button>
        )}
        <OtherWay words={words} />
        <TurnBack words={words} />
      </Stack>
    </Card>
  );
}

/** Takes the shopper to a page that wants to be posted to: by itself once, and by a press. */
function HandOverForm({
  address,
  fields,
  children,
}: {
  address: string;
  fields: HandOver;
  children: React.ReactNode;
}) {
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    // Whoever comes back here without an answer is not sent on again by itself.
    const key = `handed-over ${address} ${JSON.stringify(fields)}`;
    if (sessionStorage.getItem(key)) return;
    sessionStorage.setItem(key, "1");
    form.current?.submit();
  }, [address, fields]);
  return (
    <form ref={form} method="post" action={address}>
      {Object.entries(fields).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <Button type="submit" $kind="main">
        {children}
      </Button>
    </form>
  );
}

/** Lets go of what is under way, and leads back to the choice. */
export function OtherWay({ words }: { words: CheckoutWords }) {
  return (
    <Form method="post" replace>
      <Button name="press" value="other-way">
        {words.otherWay}
      </Button>
    </Form>
  );
}

/** How long a page is still good for, in minutes and seconds. */
function TimeLeft({ until, words }: { until: number; words: CheckoutWords }) {
  const here = useInBrowser();
  const [now, setNow] = useState(0);
  useEffect(() => {
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), 1_000);
    return () => clearInterval(timer);
  }, []);
  if (!here || now === 0) return <Small>&nbsp;</Small>;
  const seconds = Math.max(0, Math.round((until - now) / 1_000));
  const clock = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
  return (
    <Small role="timer">
      {words.timeLeft} {clock}
    </Small>
  );
}

/** A code to scan, with the quiet zone that scanners need. */
export function QrCode({ code, label }: { code: ScanCode; label: string }) {
  const room = 4;
  const size = code.size + 2 * room;
  return (
    <Code
      viewBox={`${-room} ${-room} ${size} ${size}`}
      role="img"
      aria-label={label}
      shapeRendering="crispEdges"
    >
      <path d={code.path} fill="currentColor" />
    </Code>
  );
}

/** A code for the shopper's phone; the page goes on by itself once the wallet has answered. */
export function Scan({ code, until, words }: { code: ScanCode; until: number; words: CheckoutWords }) {
  useLive(true, 1000);
  return (
    <Card role="status">
      <Stack>
        <h2>{words.scan}</h2>
        <p>{words.scanSays}</p>
        <QrCode code={code} label={words.scan} />
        <TimeLeft until={until} words={words} />
        {/^https?:/.test(code.text) && (
          <Button as="a" href={code.text}>
            {words.scanHere}
          </Button>
        )}
        <OtherWay words={words} />
        <TurnBack words={words} />
      </Stack>
    </Card>
  );
}

/** The shopper decides on a device; the page goes on by itself once that has happened. */
export function Device({ address, words }: { address: string; words: CheckoutWords }) {
  useLive(true, 1500);
  return (
    <Card role="status">
      <Stack>
        <h2>{words.device}</h2>
        <p>{words.deviceSays}</p>
        <Button as="a" href={address} $kind="main">
          {words.toDevice}
        </Button>
        <OtherWay words={words} />
        <TurnBack words={words} />
      </Stack>
    </Card>
  );
}

export function TurnBack({ words }: { words: CheckoutWords }) {
  return (
    <Form method="post" replace>
      <Button $kind="bare" name="press" value="turn-back">
        {words.back}
      </Button>
    </Form>
  );
}

export function Waiting({ words, own }: { words: CheckoutWords; own: string | null }) {
  useLive(true, 1000);
  return (
    <Card role="status">
      <Stack>
        <h2>{words.waiting}</h2>
        <p>{words.waitingSays}</p>
        {own && <p>{own}</p>}
        <Form method="get" replace>
          <Button>{words.lookAgain}</Button>
        </Form>
        <Small>{words.waitingOther}</Small>
        <OtherWay words={words} />
      </Stack>
    </Card>
  );
}

export function PaidScene({
  words,
  own,
  instrument,
  back,
  free,
}: {
  words: CheckoutWords;
  /** What the shop itself says. */
  own: string | null;
  /** What they have agreed to where nothing was charged for it, so that there is no receipt. */
  free?: string | null;
  instrument: string | null;
  back: string;
}) {
  useEffect(() => {
    const timer = setTimeout(() => window.location.replace(back), 1500);
    return () => clearTimeout(timer);
  }, [back]);
  return (
    <Card role="status">
      <Stack>
        <h2>{free ?? words.paid}</h2>
        {instrument && <p>{instrument}</p>}
        {own && <p>{own}</p>}
        <p>{words.paidSays}</p>
        <Row>
          <Button as="a" href={back} $kind="main">
            {words.toShop}
          </Button>
          {free == null && <Link to="receipt">{words.receipt}</Link>}
        </Row>
      </Stack>
    </Card>
  );
}
