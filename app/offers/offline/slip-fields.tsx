import { nameOfCode } from "#core/places/names";
import { LONGEST_ASK, type SlipAsk } from "#core/ways/offline/slip";
import type { OfflineTerms } from "#core/ways/offline/terms";
import { fieldId } from "../../parts/error-summary";
import { Hint, Wrong } from "../../parts/form";
import { SelectBox } from "../../parts/select-box";
import { Stack } from "../../parts/sheet";
import { TextBox } from "../../parts/text-box";
import { Pair } from "../fields";
import { t } from "../../words/pages/ways-offline";

/** Where shoppers pay other than to an account, and what they are asked to send in. */
export function SlipFields({
  terms,
  languages,
  put,
  wrong,
}: {
  terms: OfflineTerms;
  languages: readonly string[];
  put: (change: Partial<OfflineTerms>) => void;
  wrong: (path: string) => string | undefined;
}) {
  const { slip = null, phone = "" } = terms;
  const ask = (asks: string) =>
    put({ slip: asks === "text" || asks === "file" ? { says: slip?.says ?? {}, asks } : null });
  const say = (change: SlipAsk["says"]) =>
    slip && put({ slip: { ...slip, says: { ...slip.says, ...change } } });
  return (
    <Stack>
      <h2>{t("how-shoppers-show-that-they")}</h2>
      <Pair>
        <TextBox
          label={t("telephone-number-to-pay-to")}
          id={fieldId("offline.phone")}
          value={phone}
          maxLength={40}
          placeholder={t("none")}
          inputMode="tel"
          onChange={(text) => put({ phone: text })}
          wrong={wrong("phone")}
        />
        <SelectBox
          id={fieldId("offline.slip")}
          label={t("proof")}
          value={slip?.asks ?? "none"}
          onChange={ask}
          choices={[
            { id: "none", name: t("is-not-asked-for") },
            { id: "text", name: t("is-a-text-such-as") },
            { id: "file", name: t("is-a-picture-or-a") },
          ]}
        />
        {slip &&
          languages.map((language) => (
            <TextBox
              key={language}
              label={t("what-is-asked-for-language", { language: nameOfCode("language", language) })}
              id={fieldId(`offline.slip.${language}`)}
              value={slip.says[language] ?? ""}
              lang={language}
              maxLength={LONGEST_ASK}
              placeholder={t("proof-of-the-payment")}
              onChange={(text) => say({ [language]: text })}
              wrong={wrong(`slip.${language}`)}
            />
          ))}
      </Pair>
      <Wrong>{wrong("slip")}</Wrong>
      {slip && <Hint>{t("what-shoppers-send-in-stands")}</Hint>}
    </Stack>
  );
}
