import {
  accentTrouble,
  type Agreement,
  type Corner,
  type Face,
  groundTrouble,
  type Light,
  type Look,
  standing,
} from "#core/looks/look";
import { nameOfCode } from "#core/places/names";
import { CheckBox } from "../parts/check-box";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Pairs, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { ColourBox } from "./colour-box";
import { missing, type Texts } from "./draft";
import { t } from "../words/pages/looks";

const cornerNames: Record<Corner, string> = {
  square: t("square"),
  soft: t("a-little-round"),
  round: t("round"),
};
const faceNames: Record<Face, string> = {
  plain: t("plain"),
  serif: t("with-serifs"),
  device: t("the-shoppers-devices-own"),
};
const lightNames: Record<Light, string> = {
  device: t("as-the-shoppers-device-is"),
  light: t("always-light"),
  dark: t("always-dark"),
};
const agreementNames: Record<Agreement, string> = {
  none: t("not-shown"),
  told: t("a-link"),
  required: t("the-shopper-has-to-agree"),
};

const plainNames: Record<string, string> = {
  ...{ accent: t("accent"), ground: t("ground"), light: t("light"), corner: t("corners"), face: t("type") },
  logo: t("logo"),
  mostShown: t("ways-of-paying-shown-at"),
  mostButtons: t("buttons-that-pay-on-one"),
  remembers: t("choose-again-what-the-same"),
  ...{ terms: t("terms-of-sale"), receipts: t("send-shoppers-their-receipts-by") },
  ...{ email: t("e-mail-for-questions"), phone: t("telephone-for-questions"), page: t("page-with-help") },
};

/** What a box of the look is called. */
export function nameOfField(field: string): string {
  const [what = "", code] = field.split(/-(.*)/s);
  if (code === undefined) return plainNames[field] ?? field;
  const language = nameOfCode("language", code);
  return what === "terms" ? t("terms-in-language", { language }) : t("privacy-in-language", { language });
}

const choices: Record<string, Record<string, string>> = {
  ...{ corner: cornerNames, face: faceNames, light: lightNames, terms: agreementNames },
  ...{ remembers: { yes: t("on"), "": t("off") }, receipts: { yes: t("on"), "": t("off") } },
};

/** How what was chosen in a box reads; undefined where it is written as it stands. */
export const valueOfField = (field: string, value: unknown): string | undefined =>
  choices[field]?.[typeof value === "string" ? value : ""];

/** The boxes of a part of the look: what stands in them, who hears what is typed, and what is wrong at each. */
interface PartProps {
  texts: Texts;
  put: (name: string) => (text: string) => void;
  wrong: (path: string) => string | undefined;
}

export function ColourFields({ look, texts, put, wrong }: PartProps & { look: Look }) {
  return (
    <Sheet>
      <Stack>
        <h2>{t("colours-and-type")}</h2>
        <Pairs>
          <ColourBox
            name="accent"
            label={t("accent")}
            hint={t("of-presses-links-and-what")}
            usual={standing.light.accent}
            text={texts.accent ?? ""}
            onText={put("accent")}
            trouble={accentTrouble(look)}
            wrong={wrong("accent")}
          />
          <ColourBox
            name="ground"
            label={t("ground")}
            hint={
              look.light === "dark"
                ? t("behind-everything-empty-ours")
                : t("behind-everything-where-the-page")
            }
            usual={look.light === "dark" ? standing.dark.paper : standing.light.paper}
            text={texts.ground ?? ""}
            onText={put("ground")}
            trouble={groundTrouble(look)}
            wrong={wrong("ground")}
          />
          <Choice name="light" label={t("light")} names={lightNames} texts={texts} put={put} />
          <Choice name="corner" label={t("corners")} names={cornerNames} texts={texts} put={put} />
          <TextBox
            name="mostShown"
            label={t("ways-of-paying-shown-at")}
            hint={t("the-others-open-under-more")}
            inputMode="numeric"
            maxLength={2}
            placeholder={t("all")}
            value={texts.mostShown ?? ""}
            onChange={put("mostShown")}
            wrong={wrong("mostShown")}
          />
          <TextBox
            name="mostButtons"
            label={t("buttons-that-pay-on-one")}
            hint={t("the-first-so-many-of")}
            inputMode="numeric"
            maxLength={2}
            placeholder={t("all")}
            value={texts.mostButtons ?? ""}
            onChange={put("mostButtons")}
            wrong={wrong("mostButtons")}
          />
          <Choice name="face" label={t("type")} names={faceNames} texts={texts} put={put} />
        </Pairs>
        <CheckBox
          name="remembers"
          value="yes"
          checked={texts.remembers === "yes"}
          onChange={(on) => put("remembers")(on ? "yes" : "")}
        >
          {t("choose-again-what-the-same")}
        </CheckBox>
        <Small>{t("an-accent-that-would-be")}</Small>
      </Stack>
    </Sheet>
  );
}

export function TermFields({ languages, texts, put, wrong }: PartProps & { languages: readonly string[] }) {
  return (
    <Sheet>
      <Stack>
        <h2>{t("terms-privacy-and-help")}</h2>
        <Choice name="terms" label={t("terms-of-sale")} names={agreementNames} texts={texts} put={put} />
        {languages.map((language) => (
          <Pairs key={language}>
            {texts.terms !== "none" && (
              <TextBox
                name={`terms-${language}`}
                type="url"
                label={t("terms-in-language", { language: nameOfCode("language", language) })}
                value={texts[`terms-${language}`] ?? ""}
                onChange={put(`terms-${language}`)}
                wrong={wrong(`terms-${language}`)}
                hint={missing(texts, "terms", language, languages)}
              />
            )}
            <TextBox
              name={`privacy-${language}`}
              type="url"
              label={t("privacy-in-language", { language: nameOfCode("language", language) })}
              value={texts[`privacy-${language}`] ?? ""}
              onChange={put(`privacy-${language}`)}
              wrong={wrong(`privacy-${language}`)}
              hint={missing(texts, "privacy", language, languages)}
            />
          </Pairs>
        ))}
        <Pairs>
          {(
            [
              ["email", t("e-mail-for-questions"), "email"],
              ["phone", t("telephone-for-questions"), "tel"],
              ["page", t("page-with-help"), "url"],
            ] as const
          ).map(([name, label, type]) => (
            <TextBox
              key={name}
              name={name}
              type={type}
              label={label}
              value={texts[name] ?? ""}
              onChange={put(name)}
              wrong={wrong(name)}
            />
          ))}
        </Pairs>
      </Stack>
    </Sheet>
  );
}

/** `mails`: whether there is a mail server that they go by. */
export function ReceiptFields({ mails, texts, put }: Omit<PartProps, "wrong"> & { mails: boolean }) {
  return (
    <Sheet>
      <Stack>
        <h2>{t("receipts")}</h2>
        <CheckBox
          name="receipts"
          value="yes"
          checked={texts.receipts === "yes"}
          onChange={(on) => put("receipts")(on ? "yes" : "")}
        >
          {t("send-shoppers-their-receipts-by")}
        </CheckBox>
        <Small>{t("when-an-order-is-placed")}</Small>
        {!mails && texts.receipts === "yes" && <Says meaning="waits">{t("no-mail-server-is-set")}</Says>}
      </Stack>
    </Sheet>
  );
}

function Choice<T extends string>({
  name,
  label,
  names,
  texts,
  put,
}: {
  name: string;
  label: string;
  names: Record<T, string>;
  texts: Texts;
  put: (name: string) => (text: string) => void;
}) {
  return (
    <SelectBox
      label={label}
      name={name}
      value={texts[name]}
      onChange={put(name)}
      choices={Object.entries<string>(names).map(([id, text]) => ({ id, name: text }))}
    />
  );
}
