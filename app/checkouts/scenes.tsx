import { useEffect } from "react";
import { Form } from "react-router";
import { styled } from "styled-components";
import type { ScanCode } from "#server/checkouts/view";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Row, Stack } from "../parts/sheet";
import { Card } from "./checkout-view";
import type { CheckoutWords } from "./words";

const Code = styled.svg`
  width: min(15rem, 100%);
  background: #fff;
  color: #000;
  justify-self: center;
`;

/** A code for the shopper's phone; the page goes on by itself once the wallet has answered. */
export function Scan({ code, words }: { code: ScanCode; words: CheckoutWords }) {
  useLive(true, 1000);
  const room = 4;
  const size = code.size + 2 * room;
  return (
    <Card role="status">
      <Stack>
        <h2>{words.scan}</h2>
        <p>{words.scanSays}</p>
        <Code
          viewBox={`${-room} ${-room} ${size} ${size}`}
          role="img"
          aria-label={words.scan}
          shapeRendering="crispEdges"
        >
          <path d={code.path} fill="currentColor" />
        </Code>
        {/^https?:/.test(code.text) && (
          <Button as="a" href={code.text}>
            {words.scanHere}
          </Button>
        )}
        <Form method="get" replace>
          <Button>{words.lookAgain}</Button>
        </Form>
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
        <Form method="get" replace>
          <Button>{words.lookAgain}</Button>
        </Form>
        <Form method="post" replace>
          <Button name="press" value="other-way">
            {words.otherWay}
          </Button>
        </Form>
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

export function Waiting({ words }: { words: CheckoutWords }) {
  useLive(true, 1000);
  return (
    <Card role="status">
      <Stack>
        <h2>{words.waiting}</h2>
        <p>{words.waitingSays}</p>
        <Form method="get" replace>
          <Button>{words.lookAgain}</Button>
        </Form>
      </Stack>
    </Card>
  );
}

export function PaidScene({
  words,
  instrument,
  back,
}: {
  words: CheckoutWords;
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
        <h2>{words.paid}</h2>
        {instrument && <p>{instrument}</p>}
        <p>{words.paidSays}</p>
        <Row>
          <Button as="a" href={back} $kind="main">
            {words.toShop}
          </Button>
        </Row>
      </Stack>
    </Card>
  );
}
