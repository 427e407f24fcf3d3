import { Link } from "react-router";
import type { ZoneEffect } from "#server/offers/zone-uses";
import { ModePlate, Note, Says } from "../parts/marks";
import { Small, Stack } from "../parts/sheet";
import { t } from "../words/pages/offers-zones";

/** The offers that go by a zone, each with its storefront, and whether live shoppers meet it. */
export function Uses({ uses }: { uses: ZoneEffect["offers"] }) {
  if (uses.length === 0) return <Small as="span">{t("none")}</Small>;
  return (
    <ul>
      {uses.map((one) => (
        <li key={one.offerId}>
          <Link to={`/s/${one.storefrontId}/offer/${one.way === "offline" ? "without/" : ""}${one.offerId}`}>
            {one.label}
          </Link>{" "}
          <Small as="span">{t("on-storefront", { storefront: one.storefront })}</Small>{" "}
          {one.live && <ModePlate mode="live" />}
        </li>
      ))}
    </ul>
  );
}

/** What a change does in live as soon as it is kept. */
export function Effect({ effect }: { effect: ZoneEffect }) {
  const { offers, baskets } = effect;
  return (
    <Note meaning="waits">
      <Stack role="alert" $gap={0.4}>
        <p>{t("this-holds-in-live-at", { b: (inner) => <strong>{inner}</strong>, offers: offers.length })}</p>
        <Uses uses={offers} />
        {baskets.length > 0 ? (
          <>
            <p>{t("of-the-kept-baskets-it")}</p>
            <ul>
              {baskets.map((one) => (
                <li key={`${one.storefront} ${one.basket} ${one.offer}`}>
                  <Says meaning={one.shown ? "proven" : "waits"}>
                    {t("basket-on-storefront-offer-is", {
                      basket: one.basket,
                      storefront: one.storefront,
                      offer: one.offer,
                      hasShown: one.shown ? "yes" : "no",
                    })}
                  </Says>
                </li>
              ))}
            </ul>
          </>
        ) : (
          <Small>{t("for-no-kept-basket-it")}</Small>
        )}
      </Stack>
    </Note>
  );
}
