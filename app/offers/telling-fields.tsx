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

/** What a provider can be told, what it must be, and in which language its pages speak to each of the storefront's. */
export interface TellingView {
  provider: string;
  can: Record<keyof Telling, boolean>;
  needs: readonly ToldPart[];
  languages: { language: string; speaks: string }[];
}

const whatWords = {
  lines: "The order’s lines, not the total alone",
  email: "The shopper’s e-mail address",
  address: "Where it goes and from where it is paid",
  shopper: "Who the shopper is at the shop, where they are signed in",
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
      <h2>What {provider} is told</h2>
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
              <Wrong>Without it {provider} cannot offer this method.</Wrong>
            ) : (
              needs.includes(what) && <Hint>{provider} offers this method with it alone.</Hint>
            )}
          </Stack>
        ))}
      <Pair>
        {can.brand && (
          <TextBox
            label="What the shop is called on its pages"
            id={fieldId("telling.brand")}
            value={telling.brand}
            maxLength={LONGEST_BRAND}
            placeholder="As in the account"
            onChange={(brand) => put({ brand })}
            wrong={saysAt(problems, "telling.brand")}
          />
        )}
      </Pair>
      {can.notes && (
        <FieldSet id={fieldId("telling.notes")}>
          <legend>Pairs of your own</legend>
          {telling.notes.map((one, i) => (
            <Row key={i} $align="end">
              <TextBox
                label={`Name ${i + 1}`}
                value={one.name}
                maxLength={30}
                size={14}
                onChange={(name) => note(i, { name })}
              />
              <TextBox
                label={`Text ${i + 1}`}
                value={one.value}
                maxLength={120}
                size={24}
                onChange={(value) => note(i, { value })}
              />
              <Button
                type="button"
                $kind="bare"
                aria-label={`Take pair ${i + 1} away`}
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
                <Plus size={16} aria-hidden /> Add a pair
              </Button>
            </div>
          )}
          <Wrong>{saysAt(problems, "telling.notes")}</Wrong>
        </FieldSet>
      )}
      {others.length > 0 && (
        <Small>
          Its pages do not speak every language of this storefront:{" "}
          {others
            .map(
              ({ language, speaks }) =>
                `shoppers who read ${nameOfCode("language", language)} are met in ${nameOfCode("language", speaks)}`,
            )
            .join("; ")}
          .
        </Small>
      )}
    </Stack>
  );
}
