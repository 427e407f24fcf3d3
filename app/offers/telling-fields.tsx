import { Plus, X } from "lucide-react";
import { nameOfCode } from "#core/places/names";
import { LONGEST_BRAND, MOST_NOTES, type ToldPart, toldParts, type Telling } from "#core/profiles/telling";
import { CheckBox } from "../parts/check-box";
import { fieldId } from "../parts/error-summary";
import { Button, FieldSet, Hint, Wrong } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { saysAt } from "../words/says-at";
import type { Draft } from "./draft";
import { type OfferPart, Pair } from "./fields";
import { t } from "../words/pages/offers";

/** What a provider can be told, what it must be, and in which language its pages speak to each of the storefront's. */
export interface TellingView {
  provider: string;
  can: Record<keyof Telling, boolean>;
  needs: readonly ToldPart[];
  languages: { language: string; speaks: string }[];
}

const whatWords = {
  lines: t("the-orders-lines-not-the"),
  email: t("the-shoppers-e-mail-address"),
  address: t("where-it-goes-and-from"),
  shopper: t("who-the-shopper-is-at"),
} satisfies Record<ToldPart, string>;

/** What the provider is told beyond what it must be; the least that works is what an offer begins with. */
export function TellingFields({
  draft,
  edit,
  problems,
  telling: { provider, can, needs, languages },
}: OfferPart & { telling: TellingView }) {
  const { telling } = draft;
  const put = (change: Partial<Draft["telling"]>) => edit({ telling: { ...telling, ...change } });
  const note = (at: number, change: { name?: string; value?: string }) =>
    put({ notes: telling.notes.map((one, i) => (i === at ? { ...one, ...change } : one)) });
  const others = languages.filter(({ language, speaks }) => speaks.split("-")[0] !== language.split("-")[0]);
  const any = Object.values(can).some(Boolean);
  if (!any && others.length === 0) return null;
  return (
    <Stack>
      <h2>{t("what-provider-is-told", { provider })}</h2>
      {toldParts
        .filter((what) => can[what])
        .map((what) => (
          <Stack key={what} $gap={0.2}>
            <CheckBox
              id={fieldId(`telling.${what}`)}
              checked={telling[what] ?? needs.includes(what)}
              onChange={(on) => put({ [what]: on })}
            >
              {whatWords[what]}
            </CheckBox>
            {needs.includes(what) && telling[what] === false ? (
              <Wrong>{t("without-it-provider-cannot-offer", { provider })}</Wrong>
            ) : (
              needs.includes(what) && <Hint>{t("provider-offers-this-method-with", { provider })}</Hint>
            )}
          </Stack>
        ))}
      <Pair>
        {can.brand && (
          <TextBox
            label={t("what-the-shop-is-called")}
            id={fieldId("telling.brand")}
            value={telling.brand}
            maxLength={LONGEST_BRAND}
            placeholder={t("as-in-the-account")}
            onChange={(brand) => put({ brand })}
            wrong={saysAt(problems, "telling.brand")}
          />
        )}
      </Pair>
      {can.notes && (
        <FieldSet id={fieldId("telling.notes")}>
          <legend>{t("pairs-of-your-own")}</legend>
          {telling.notes.map((one, i) => (
            <Row key={i} $align="end">
              <TextBox
                label={t("name-i", { i: i + 1 })}
                value={one.name}
                maxLength={30}
                size={14}
                onChange={(name) => note(i, { name })}
              />
              <TextBox
                label={t("text-i", { i: i + 1 })}
                value={one.value}
                maxLength={120}
                size={24}
                onChange={(value) => note(i, { value })}
              />
              <Button
                type="button"
                $kind="bare"
                aria-label={t("take-pair-i-away", { i: i + 1 })}
                onClick={() => put({ notes: telling.notes.filter((_, at) => at !== i) })}
              >
                <X size={16} aria-hidden />
              </Button>
            </Row>
          ))}
          {telling.notes.length < MOST_NOTES && (
            <div>
              <Button
                type="button"
                $kind="bare"
                onClick={() => put({ notes: [...telling.notes, { name: "", value: "" }] })}
              >
                <Plus size={16} aria-hidden /> {t("add-a-pair")}
              </Button>
            </div>
          )}
          <Wrong>{saysAt(problems, "telling.notes")}</Wrong>
        </FieldSet>
      )}
      {others.length > 0 && (
        <Small>
          {t("its-pages-do-not-speak", {
            others: others
              .map(({ language, speaks }) =>
                t("shoppers-who-read-language-are", {
                  language: nameOfCode("language", language),
                  speaks: nameOfCode("language", speaks),
                }),
              )
              .join("; "),
          })}
        </Small>
      )}
    </Stack>
  );
}
