import { useState } from "react";
import { Link, useFetcher, useSubmit } from "react-router";
import type { Loss } from "#server/connections/disconnect";
import { AskFirst } from "../parts/ask";
import { CheckBox } from "../parts/check-box";
import { Button, Hint, Input, Wrong } from "../parts/form";
import { PageHead, Row, Small } from "../parts/sheet";
import { PasteAnywhere } from "./paste-several";
import type { Answer } from "./presses";
import { t } from "../words/pages/connections";

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
          <h1>
            {name === provider
              ? t("handshake-with-provider", { provider })
              : t("name-handshake-with-provider", { name, provider })}
          </h1>
          <p>{t("paste-each-value-into-its")}</p>
          <PasteAnywhere key={id} />
        </div>
        <Row $gap={1}>
          <Link to={`/s/${storefrontId}/exchanges?connection=${id}`}>{t("exchanges")}</Link>
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
        {t("rename")}
      </Button>
    );
  return (
    <fetcher.Form method="post" onSubmit={() => setOpen(false)}>
      <Row>
        <Input
          name="name"
          defaultValue={name}
          aria-label={t("name-of-the-connection")}
          maxLength={60}
          required
          autoFocus
        />
        <Button name="press" value="rename">
          {t("keep-the-name")}
        </Button>
      </Row>
      <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
    </fetcher.Form>
  );
}

function Serves({ head }: { head: HeadView }) {
  const fetcher = useFetcher<Answer>();
  return (
    <Row $gap={1.2} role="group" aria-label={t("storefronts-it-serves")}>
      <Small>{t("serves")}</Small>
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
  const offers = loss.offers.map((one) =>
    t("label-on-storefront", { label: one.label, storefront: one.storefront }),
  );
  const says = [
    offers.length > 0
      ? t("shoppers-no-longer-get-offers", { offers: offers.join(", ") })
      : t("nothing-is-offered-through-it"),
    loss.openPayments > 0 ? t("open-payments-live-payments-are", { openPayments: loss.openPayments }) : "",
    t("what-was-paid-through-it"),
  ]
    .filter(Boolean)
    .join(" ");
  if (loss.live) return <Hint>{t("live-fall-back-at-cut")}</Hint>;
  return (
    <AskFirst
      label={t("disconnect")}
      title={t("disconnect-name", { name })}
      says={says}
      yes={t("disconnect-it")}
      no={t("keep-it")}
      onYes={() => void submit({ press: "disconnect" }, { method: "post" })}
    />
  );
}
