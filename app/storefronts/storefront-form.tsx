import { useState } from "react";
import { styled } from "styled-components";
import type { StorefrontEntry } from "#core/storefronts/storefront";
import { ChooseMany, ChooseOne } from "../parts/choose";
import { countryChoices, currencyChoices, languageChoices } from "../parts/places";
import { Sheet, Stack } from "../parts/sheet";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import { TextBox } from "../parts/text-box";

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
        label="Name"
        name="name"
        defaultValue={entry.name}
        maxLength={60}
        hint="As your shoppers know it."
        wrong={saysAt(problems, "name")}
      />
      <TextBox
        label="Address"
        name="address"
        defaultValue={entry.address}
        maxLength={300}
        hint="Where it sells, with https:// in front."
        wrong={saysAt(problems, "address")}
      />
      <ChooseOne
        label="Country it sells from"
        name="country"
        choices={countryChoices()}
        value={country}
        onChange={setCountry}
        wrong={saysAt(problems, "country")}
      />
      <ChooseMany
        label="Languages"
        name="languages"
        hint="The first is the main one."
        choices={languageChoices(languages)}
        value={languages}
        onChange={setLanguages}
        wrong={saysAt(problems, "languages")}
      />
      <ChooseMany
        label="Currencies"
        name="currencies"
        hint="All that shoppers can switch between, the main one first."
        choices={currencyChoices()}
        value={currencies}
        onChange={setCurrencies}
        wrong={saysAt(problems, "currencies")}
      />
      <TextBox
        label="Shopper groups"
        name="groups"
        defaultValue={entry.groups}
        maxLength={2000}
        hint="Shoppers who are treated alike, with commas between: Retail, Dealers."
        wrong={saysAt(problems, "groups")}
      />
      <TextBox
        label="Apps"
        name="apps"
        defaultValue={entry.apps ?? ""}
        maxLength={2000}
        hint="Only if shoppers come back to an app of yours: what its addresses begin with, such as com.example.app, with commas between."
        wrong={saysAt(problems, "apps")}
      />
    </Stack>
  );
}

const fields = ["name", "address", "country", "languages", "currencies", "groups", "apps"] as const;

/** What the form of a storefront sends. */
export const entryFrom = (form: FormData): StorefrontEntry =>
  Object.fromEntries(
    fields.map((name) => [name, String(form.get(name) ?? "").slice(0, 2000)]),
  ) as unknown as StorefrontEntry;
