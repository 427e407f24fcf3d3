import { useState } from "react";
import { useFetcher } from "react-router";
import { type Basket, tableOf } from "#core/offers/baskets";
import type { Candidate } from "#core/offers/decide";
import type { OfferDocument } from "#core/offers/offer";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/offers-baskets";

/** What an edit that is not saved yet changes for the kept baskets. */
export function EditChanges({
  offerId,
  document,
  candidates,
  baskets,
  at,
}: {
  offerId: string;
  document: OfferDocument;
  candidates: readonly Candidate[];
  baskets: readonly Basket[];
  at: number;
}) {
  const [saved] = candidates.filter((one) => one.id === offerId);
  if (!saved || baskets.length === 0) return null;
  const before = tableOf([saved], baskets, at);
  const after = tableOf([{ ...saved, document }], baskets, at);
  const shown = (row: (typeof before)[number] | undefined) => row?.get(offerId) === null;
  const changed = baskets.flatMap(({ name }, i) =>
    shown(before[i]) === shown(after[i]) ? [] : [{ name, shown: shown(after[i]) }],
  );
  return (
    <div role="status">
      <Small>
        {changed.length === 0
          ? t("for-all-baskets-kept-baskets", { baskets: baskets.length })
          : t("of-baskets-kept-baskets-this", { baskets: baskets.length, changed: changed.length })}
      </Small>
      <ul>
        {changed.map((one) => (
          <li key={one.name}>
            <Says meaning={one.shown ? "proven" : "waits"}>
              {t("name-now-withheld", { name: one.name, hasShown: one.shown ? "yes" : "no" })}
            </Says>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Keeps the mirror's own basket under a name. */
export function KeepBasket({ action, basket }: { action: string; basket: Omit<Basket, "name"> }) {
  const fetcher = useFetcher<{ ok: boolean; problem: string | null }>();
  const [name, setName] = useState("");
  const [kept, setKept] = useState("");
  const idle = fetcher.state === "idle";
  return (
    <Stack $gap={0.3}>
      <Row $align="end">
        <TextBox label={t("keep-this-basket-as")} value={name} maxLength={60} onChange={setName} />
        <Button
          type="button"
          disabled={!idle || name.trim() === ""}
          onClick={() => {
            setKept(name.trim());
            void fetcher.submit(
              { press: "keep", baskets: JSON.stringify([{ ...basket, name }]) },
              { method: "post", action },
            );
          }}
        >
          {t("keep")}
        </Button>
      </Row>
      {idle && fetcher.data?.ok && <Says meaning="proven">{t("kept-is-kept", { kept })}</Says>}
      <Wrong>{idle ? fetcher.data?.problem : null}</Wrong>
    </Stack>
  );
}
