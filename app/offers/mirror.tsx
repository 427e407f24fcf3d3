import { Footprints } from "lucide-react";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import { minorDigits } from "#core/money/currencies";
import { decimalText, moneyText, parseTyped } from "#core/money/money";
import { saidAfter } from "#core/offers/afterwards";
import { shopperLocale } from "#core/orders/view";
import { type Candidate, decide } from "#core/offers/decide";
import { type Look, lookIn } from "#core/looks/look";
import type { Basket } from "#core/offers/baskets";
import type { Asked } from "#core/offers/rules";
import type { OfferDocument, OfferTerms } from "#core/offers/offer";
import { OfferChoices, OrderReceipt } from "../checkouts/checkout-view";
import { ScriptFont } from "../checkouts/script-font";
import type { CheckoutWords } from "../checkouts/words";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { nameOfCode } from "#core/places/names";
import { color } from "../theme/tokens";
import { offering } from "../words/offering";
import { ChooseOne } from "../parts/choose";
import { countryChoices } from "../parts/places";
import { AmountBox } from "../parts/text-box";
import { EditChanges, KeepBasket } from "./kept-baskets";
import { buttonsOn, ShopPage, tellingOn, type Told } from "./shop-pages";
import { REFERENCE, ShopperFrame, ShopWindow } from "./shop-window";
import { MirrorMore, NO_MORE } from "./mirror-more";
import { t } from "../words/pages/offers";

interface Props {
  offerId: string;
  document: OfferDocument;
  candidates: readonly Candidate[];
  terms: OfferTerms & { groupNames: { id: string; name: string }[] };
  storefront: { id: string; name: string; country: string; locale: string };
  /** Kept baskets, for which an edit changes what is offered. */
  baskets: readonly Basket[];
  dirty: boolean;
  /** When the page was made, milliseconds since the epoch. */
  at: number;
  look: Look;
  /** The checkout’s words in each language of the storefront. */
  words: Readonly<Record<string, CheckoutWords>>;
}

const Cart = styled.div`
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  gap: 0.6rem 0.7rem;
  > * {
    grid-column: span 4;
    min-width: 0;
  }
  > :nth-child(-n + 4) {
    grid-column: span 6;
  }
`;
const Glass = styled.div`
  border: 2px solid ${color.ink};
  border-width: 2px 2px 10px;
  max-height: 34rem;
  overflow: auto;
`;
const Withheld = styled.ul`
  display: grid;
  gap: 0.7rem;
  li li {
    padding-left: 0;
  }
`;

/** A basket to begin with, in a currency's own decimals. */
const basketIn = (currency: string) => {
  const more = 10 ** Math.max(0, minorDigits(currency) - 2);
  const text = (minor: number) => decimalText({ amount: minor * more, currency });
  return { goods: text(4290), shipping: text(490), tax: text(763) };
};

/** The checkout as one shopper would see it, decided by the function that the checkout itself asks. */
export function Mirror({
  offerId,
  document,
  candidates,
  terms,
  storefront,
  dirty,
  at,
  look,
  baskets,
  words: byLanguage,
}: Props) {
  const [cart, setCart] = useState({
    country: storefront.country,
    currency: terms.currencies[0] ?? "EUR",
    language: terms.languages[0] ?? "en",
    group: terms.groups[0] ?? "",
    ...basketIn(terms.currencies[0] ?? "EUR"),
  });
  const [chosen, setChosen] = useState<string | null>(null);
  const [more, setMore] = useState(NO_MORE);
  const put = (change: Partial<typeof cart>) =>
    setCart((before) => ({
      ...before,
      // Another currency may have no decimals, or more of them: the basket starts anew.
      ...(change.currency && change.currency !== before.currency && basketIn(change.currency)),
      ...change,
    }));
  const read = (text: string) => {
    const parsed = parseTyped(text, cart.currency, storefront.locale);
    return parsed.ok && parsed.money.amount >= 0 ? parsed.money.amount : null;
  };
  const [goods, shipping, tax] = [read(cart.goods), read(cart.shipping), read(cart.tax)];
  const readable = goods !== null && shipping !== null && tax !== null;
  const total = (goods ?? 0) + (shipping ?? 0);
  const order = {
    reference: REFERENCE,
    currency: cart.currency,
    lines: [
      {
        name: cart.language.startsWith("de") ? "Warenkorb" : t("basket"),
        quantity: 1,
        unit: goods ?? 0,
        total: goods ?? 0,
      },
    ],
    shipping: shipping ?? 0,
    tax: tax ?? 0,
    taxIncluded: true,
    total,
    country: cart.country,
    language: cart.language,
    returnAddress: "",
  };
  const place = { country: cart.country, ...(more.postcode.trim() && { postcode: more.postcode.trim() }) };
  const kilograms = Number(more.kilograms.replace(",", "."));
  const asked: Asked = {
    ...{ at, tries: 0, shipTo: place, billTo: place, returning: more.returning, device: more.device },
    kinds: more.kinds
      .split(",")
      .map((one) => one.trim())
      .filter(Boolean),
    ...(more.delivery.trim() && { delivery: more.delivery.trim() }),
    ...(more.kilograms.trim() && kilograms >= 0 && { weight: Math.round(kilograms * 1000) }),
  };
  const basket: Omit<Basket, "name"> = {
    ...{ total, goods: goods ?? 0, currency: cart.currency, country: cart.country, group: cart.group },
    ...{ postcode: place.postcode ?? "", kinds: [...(asked.kinds ?? [])], delivery: asked.delivery ?? "" },
    ...{ weight: asked.weight ?? null, returning: more.returning, device: more.device, tries: 0 },
  };
  const hasRules = document.rules !== undefined || candidates.some((one) => one.document.rules !== undefined);
  const edited = candidates.map((one) => (one.id === offerId ? { ...one, document } : one));
  const decided = (amount: number) =>
    decide(edited, {
      total: { amount, currency: cart.currency },
      goods: goods ?? 0,
      country: cart.country,
      language: cart.language,
      group: cart.group,
      asked,
    });
  const decision = offering(storefront.locale).spoken(decided(total));
  /** What a page of the shop tells: a product’s of the goods alone, which nobody has sent yet. */
  const told = (page: "product" | "basket"): Told => {
    const amount = page === "product" ? (goods ?? 0) : total;
    return {
      ...{ storefrontId: storefront.id, country: cart.country, language: cart.language },
      ...{ locale: shopperLocale(order), total: { amount, currency: cart.currency } },
      offers: tellingOn(page, edited, decided(amount).shown),
      buttons: buttonsOn(page, edited, decided(amount).shown),
    };
  };
  const choices: [string, keyof typeof cart, readonly { id: string; name: string }[]][] = [
    [t("currency"), "currency", terms.currencies.map((id) => ({ id, name: id }))],
    [t("language"), "language", terms.languages.map((id) => ({ id, name: nameOfCode("language", id) }))],
    [t("group"), "group", terms.groupNames],
  ];
  // The offer that is edited is the one looked at, until another is chosen.
  const picked =
    decision.shown.find(({ id }) => id === (chosen ?? offerId)) ??
    decision.shown.find(({ id }) => id === offerId) ??
    decision.shown[0];
  const charged = { ...order, ...(picked && { charge: picked.charge }) };
  const words = byLanguage[cart.language] ?? Object.values(byLanguage)[0];
  if (!words) return null;
  const seen = lookIn(look, cart.language);
  const receipt = <OrderReceipt order={charged} words={words} level={3} />;
  /** The ways of paying, drawn in as many places as are looked at. */
  const choice = (place: string) =>
    decision.shown.length === 0 ? (
      <p>{words.nothing}</p>
    ) : (
      <OfferChoices
        name={`mirrored-${place}`}
        offers={decision.shown}
        order={order}
        chosen={picked?.id ?? null}
        onChoose={setChosen}
        most={seen.mostShown}
        words={words}
      />
    );
  return (
    <Sheet aria-label={t("shoppers-mirror")}>
      <Stack>
        <h2>{t("the-shoppers-mirror")}</h2>
        <Cart>
          {/* One cell of the grid: the box brings hidden neighbours along. */}
          <div>
            <ChooseOne
              label={t("country")}
              choices={countryChoices()}
              value={cart.country}
              onChange={(country) => put({ country })}
            />
          </div>
          {choices.map(([label, name, options]) => (
            <SelectBox
              key={name}
              label={label}
              value={cart[name]}
              onChange={(chosen) => put({ [name]: chosen })}
              choices={options.map((one) => ({ id: one.id, name: one.name }))}
            />
          ))}
          {(["goods", "shipping", "tax"] as const).map((name) => (
            <AmountBox
              key={name}
              label={{ goods: t("goods"), shipping: t("shipping"), tax: t("tax-included") }[name]}
              value={cart[name]}
              currency={cart.currency}
              invalid={read(cart[name]) === null}
              onChange={(text) => put({ [name]: text })}
            />
          ))}
          {hasRules && (
            <MirrorMore more={more} onChange={(change) => setMore((before) => ({ ...before, ...change }))} />
          )}
        </Cart>
        {!readable && <Wrong>{t("an-amount-is-not-one", { currency: cart.currency })}</Wrong>}
        <Row>
          <ShopWindow
            seen={{ storefront: storefront.name, language: cart.language, look: seen, words }}
            receipt={receipt}
            choice={choice}
            shopPage={(page) => <ShopPage page={page} told={told(page)} />}
            own={(outcome) =>
              saidAfter(document.afterwards, cart.language, outcome, {
                ...{ order: REFERENCE, shop: storefront.name },
                total: moneyText(
                  { amount: total + (picked?.charge ?? 0), currency: cart.currency },
                  shopperLocale(order),
                ),
              })
            }
          />
        </Row>
        <Glass tabIndex={0} role="region" aria-label={t("what-the-shopper-sees")}>
          <ScriptFont language={cart.language} face={seen.face} />
          <ShopperFrame storefront={storefront.name} language={cart.language} look={seen} words={words}>
            {receipt}
            {choice("mirror")}
          </ShopperFrame>
        </Glass>
        <Small>
          {t("shown-shown-withheld-withheld-for", {
            shown: decision.shown.length,
            withheld: decision.withheld.length,
          })}
        </Small>
        <Withheld>
          {decision.withheld.map((one) => (
            <li key={one.id}>
              <strong>{one.label || t("an-offer-without-a-name")}</strong> {t("is-withheld")}
              <ul>
                {one.because.map((why) => (
                  <li key={why.code}>
                    <Says meaning="waits">{why.says}</Says> <Small as="span">{why.change}</Small>
                  </li>
                ))}
              </ul>
            </li>
          ))}
        </Withheld>
        <EditChanges
          offerId={offerId}
          document={document}
          candidates={candidates}
          baskets={baskets}
          at={at}
        />
        {readable && <KeepBasket action={`/s/${storefront.id}/offer/baskets`} basket={basket} />}
        <Walk
          order={{ ...order, group: cart.group }}
          asked={asked}
          dirty={dirty}
          readable={readable && total > 0}
        />
      </Stack>
    </Sheet>
  );
}

/** Opens the real test checkout with the mirror's basket. */
function Walk({
  order,
  asked,
  dirty,
  readable,
}: {
  order: {
    currency: string;
    lines: { name: string; quantity: number; total: number }[];
    shipping: number;
    tax: number;
    total: number;
    country: string;
    language: string;
    group: string;
    taxIncluded: boolean;
  };
  asked: Asked;
  dirty: boolean;
  readable: boolean;
}) {
  const fetcher = useFetcher<{ ok: true; address: string } | { ok: false; walk: string }>();
  const address = fetcher.data?.ok ? fetcher.data.address : null;
  useEffect(() => {
    if (address && fetcher.state === "idle") window.location.assign(address);
  }, [address, fetcher.state]);
  const text = (amount: number) => decimalText({ amount, currency: order.currency });
  const { shipTo, billTo, delivery, weight, returning, kinds = [] } = asked;
  const body = {
    ...order,
    ...{ shipTo, billTo, returning },
    ...(delivery !== undefined && { delivery }),
    ...(weight !== undefined && { weight }),
    reference: t("walked"),
    lines: order.lines.map((line) => ({
      ...{ ...line, unit: text(line.total), total: text(line.total) },
      ...(kinds[0] && { kind: kinds[0] }),
    })),
    shipping: text(order.shipping),
    tax: text(order.tax),
    total: text(order.total),
    email: "walk@example.org",
    returnAddress: "https://example.org/",
  };
  return (
    <Stack $gap={0.4}>
      <Row>
        <Button
          type="button"
          disabled={dirty || !readable || fetcher.state !== "idle"}
          onClick={() =>
            void fetcher.submit({ press: "walk", order: JSON.stringify(body) }, { method: "post" })
          }
        >
          {t("walk-it")} <Footprints size={14} aria-hidden />
        </Button>
        {dirty && <Small>{t("save-first-the-test-checkout")}</Small>}
      </Row>
      <Wrong>{fetcher.data && !fetcher.data.ok ? fetcher.data.walk : null}</Wrong>
    </Stack>
  );
}
