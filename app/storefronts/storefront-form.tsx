import { useState } from "react";
import { styled } from "styled-components";
import type { StorefrontEntry } from "#core/storefronts/storefront";
import { ChooseMany, ChooseOne } from "../parts/choose";
import { countryChoices, currencyChoices, languageChoices } from "../parts/places";
import { Sheet, Stack } from "../parts/sheet";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/storefronts";

export const NarrowSheet = styled(Sheet)`
  max-width: 40rem;
`;

const split = (text: string) => text.split(",").filter(Boolean);

/** What is asked of a storefront. The chosen codes are sent as the core reads them. */
export function StorefrontFields({
  entry,
  problems,
}: {
  entry: StorefrontEntry;
  problems: readonly SpokenProblem[];
}) {
  const [country, setCountry] = useState(entry.country);
  const [languages, setLanguages] = useState(split(entry.languages));
  const [currencies, setCurrencies] = useState(split(entry.currencies));
  return (
    <Stack>
      <TextBox
        label={t("name")}
        name="name"
        defaultValue={entry.name}
        maxLength={60}
        hint={t("as-your-shoppers-know-it")}
        wrong={saysAt(problems, "name")}
      />
      <TextBox
        label={t("address")}
        name="address"
        defaultValue={entry.address}
        maxLength={300}
        hint={t("where-it-sells-with-https")}
        wrong={saysAt(problems, "address")}
      />
      <ChooseOne
        label={t("country-it-sells-from")}
        name="country"
        choices={countryChoices()}
        value={country}
        onChange={setCountry}
        wrong={saysAt(problems, "country")}
      />
      <ChooseMany
        label={t("languages")}
        name="languages"
        hint={t("the-first-is-the-main")}
        choices={languageChoices(languages)}
        value={languages}
        onChange={setLanguages}
        wrong={saysAt(problems, "languages")}
      />
      <ChooseMany
        label={t("currencies")}
        name="currencies"
        hint={t("all-that-shoppers-can-switch")}
        choices={currencyChoices()}
        value={currencies}
        onChange={setCurrencies}
        wrong={saysAt(problems, "currencies")}
      />
      <TextBox
        label={t("shopper-groups")}
        name="groups"
        defaultValue={entry.groups}
        maxLength={2000}
        hint={t("shoppers-who-are-treated-alike")}
        wrong={saysAt(problems, "groups")}
      />
      <TextBox
        label={t("apps")}
        name="apps"
        defaultValue={entry.apps ?? ""}
        maxLength={2000}
        hint={t("only-if-shoppers-come-back")}
        wrong={saysAt(problems, "apps")}
      />
    </Stack>
  );
}

const fields = ["name", "address", "country", "languages", "currencies", "groups", "apps"] as const;

/** What the form of a storefront sends; under names that begin with `before`. */
export const entryFrom = (form: FormData, before = ""): StorefrontEntry =>
  Object.fromEntries(
    fields.map((name) => [name, String(form.get(`${before}${name}`) ?? "").slice(0, 2000)]),
  ) as unknown as StorefrontEntry;
