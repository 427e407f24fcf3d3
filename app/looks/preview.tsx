import { useState } from "react";
import { styled } from "styled-components";
import type { Shown } from "#core/offers/decide";
import type { Wording } from "#core/offers/offer";
import { type Look, lookIn } from "#core/looks/look";
import { nameOfCode } from "#core/places/names";
import {
  CheckoutFoot,
  CheckoutHead,
  CheckoutPage,
  Column,
  OfferChoices,
  OrderReceipt,
} from "../checkouts/checkout-view";
import { ScriptFont } from "../checkouts/script-font";
import { type CheckoutWords, directionOf } from "../checkouts/words";
import { Button, Check } from "../parts/form";
import { SelectBox } from "../parts/select-box";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { lightOf } from "./look-style";
import { t } from "../words/pages/looks";

const Glass = styled.div`
  border: 2px solid ${color.ink};
  border-width: 2px 2px 10px;
  max-height: 34rem;
  overflow: auto;
  > div {
    min-height: 0;
  }
`;
interface PreviewProps {
  look: Look;
  /** The storefront's languages, and the checkout's words in each. */
  languages: readonly string[];
  words: Readonly<Record<string, CheckoutWords>>;
  name: string;
  country: string;
  currency: string;
  /** What is offered, in the order in which shoppers see it. */
  offers: readonly { id: string; wording: Readonly<Record<string, Wording>>; sign: Shown["sign"] }[];
}

/** A checkout with a look, drawn by what draws the real one. */
export function Preview({
  look,
  languages,
  words: byLanguage,
  name,
  country,
  currency,
  offers,
}: PreviewProps) {
  const [language, setLanguage] = useState(languages[0] ?? "en");
  const words = byLanguage[language] ?? Object.values(byLanguage)[0];
  if (!words) return null;
  const view = lookIn(look, language);
  const labels = offers.map(({ id, wording, sign }) => {
    const said = wording[language] ?? Object.values(wording)[0];
    return { id, label: said?.label ?? "", hint: said?.hint ?? "", charge: 0, sign };
  });
  const order = {
    ...{ reference: "1042", currency, shipping: 490, tax: 0, taxIncluded: true, total: 5390 },
    ...{ country, language, returnAddress: "" },
    lines: [{ name: words.yourOrder, quantity: 1, unit: 4900, total: 4900 }],
  };
  return (
    <Sheet aria-label={t("what-a-shopper-sees")}>
      <Stack>
        <Row>
          <h2>{t("what-a-shopper-sees")}</h2>
          {languages.length > 1 && (
            <SelectBox
              label={t("language-of-the-preview")}
              bare
              value={language}
              onChange={setLanguage}
              choices={languages.map((one) => ({ id: one, name: nameOfCode("language", one) }))}
            />
          )}
        </Row>
        <Glass tabIndex={0} role="region" aria-label={t("a-checkout-with-this-look")}>
          <ScriptFont language={language} face={view.face} />
          <CheckoutPage
            $test={false}
            $look={view}
            data-theme={lightOf(view)}
            lang={language}
            dir={directionOf(language)}
          >
            <Column>
              <CheckoutHead storefront={name} reference="1042" mode="live" logo={view.logo} words={words} />
              <OrderReceipt order={order} words={words} level={3} />
              <OfferChoices
                name="looked-at"
                offers={labels}
                order={order}
                chosen={labels[0]?.id ?? null}
                most={view.mostShown}
                words={words}
              />
              {view.terms?.required && (
                <Check>
                  <input type="checkbox" /> {words.agree}
                </Check>
              )}
              <Button type="button" $kind="main">
                {words.payNow}
              </Button>
              <CheckoutFoot look={view} words={words} />
            </Column>
          </CheckoutPage>
        </Glass>
        <Small>{t("in-the-light-that-your", { device: look.light === "device" ? "yes" : "no" })}</Small>
      </Stack>
    </Sheet>
  );
}
