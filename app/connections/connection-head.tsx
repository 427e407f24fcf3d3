import { useState } from "react";
import { Link, useFetcher, useSubmit } from "react-router";
import type { Loss } from "#server/connections/disconnect";
import { AskFirst } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Hint, Input, Wrong } from "../parts/form";
import { PageHead, Row, Small } from "../parts/sheet";
import { PasteAnywhere } from "./paste-several";
import type { Answer } from "./presses";

export interface HeadView {
  id: string;
  name: string;
  provider: string;
  storefrontId: string;
  storefronts: { id: string; name: string; served: boolean }[];
  loss: Loss;
}

/** Which account this is, which storefronts it serves, and what disconnecting it would stop. */
export function ConnectionHead({ head }: { head: HeadView }) {
  const { id, name, provider, storefrontId } = head;
  return (
    <>
      <PageHead>
        <div>
          <h1>{name === provider ? `Handshake with ${provider}` : `${name}: handshake with ${provider}`}</h1>
          <p>
            Paste each value into its row, or a whole page of the dashboard anywhere here; it is proven by a
            call at once.
          </p>
          <PasteAnywhere key={id} />
        </div>
        <Row $gap={1}>
          <Link to={`/s/${storefrontId}/exchanges?connection=${id}`}>Exchanges</Link>
          <Rename key={id} name={name} />
          <Disconnect head={head} />
        </Row>
      </PageHead>
      {head.storefronts.length > 1 && <Serves head={head} />}
    </>
  );
}

function Rename({ name }: { name: string }) {
  const fetcher = useFetcher<Answer>();
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button type="button" $kind="bare" onClick={() => setOpen(true)}>
        Rename
      </Button>
    );
  return (
    <fetcher.Form method="post" onSubmit={() => setOpen(false)}>
      <Row>
        <Input
          name="name"
          defaultValue={name}
          aria-label="Name of the connection"
          maxLength={60}
          required
          autoFocus
        />
        <Button name="press" value="rename">
          Keep the name
        </Button>
      </Row>
      <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
    </fetcher.Form>
  );
}

function Serves({ head }: { head: HeadView }) {
  const fetcher = useFetcher<Answer>();
  return (
    <Row $gap={1.2} role="group" aria-label="Storefronts it serves">
      <Small>Serves</Small>
      {head.storefronts.map((one) => (
        <CheckBox
          key={one.id}
          checked={one.served}
          onChange={() =>
            void fetcher.submit(
              { press: one.served ? "unserve" : "serve", storefront: one.id },
              { method: "post" },
            )
          }
        >
          {one.name}
        </CheckBox>
      ))}
      <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
    </Row>
  );
}

function Disconnect({ head: { name, loss } }: { head: HeadView }) {
  const submit = useSubmit();
  const offers = loss.offers.map((one) => `“${one.label}” on ${one.storefront}`);
  const says = [
    offers.length > 0 ? `Shoppers no longer get ${offers.join(", ")}.` : "Nothing is offered through it.",
    loss.openPayments > 0
      ? `${loss.openPayments} live payments are still open; they stay here and can be looked after.`
      : "",
    "What was paid through it, and its news, stay. It cannot be connected again; a new connection starts from nothing.",
  ]
    .filter(Boolean)
    .join(" ");
  if (loss.live) return <Hint>Live; fall back at Cut over before disconnecting.</Hint>;
  return (
    <AskFirst
      label="Disconnect"
      title={`Disconnect ${name}?`}
      says={says}
      yes="Disconnect it"
      no="Keep it"
      onYes={() => void submit({ press: "disconnect" }, { method: "post" })}
    />
  );
}
