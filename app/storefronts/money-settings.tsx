import { useState } from "react";
import { useFetcher } from "react-router";
import type { LateTerm } from "#core/storefronts/money-terms";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Row, Small, Stack } from "../parts/sheet";
import { AmountBox } from "../parts/text-box";
import type { SpokenProblem } from "../words/speak";
import { NarrowSheet } from "./storefront-form";
import { t } from "../words/pages/storefronts";

type Answer = { ok: true } | { ok: false; problems: SpokenProblem[] };

/** What an owner sets about money: what becomes of what comes late, and which refunds want two people. */
export function MoneySettings({
  late,
  fees,
  forbidden,
  from,
}: {
  late: LateTerm;
  fees: string;
  /** Whether the law of the shop's country forbids fees. */
  forbidden: boolean;
  /** From which amount on, by currency, as it is typed. */
  from: readonly { currency: string; text: string }[];
}) {
  const fetcher = useFetcher<Answer>();
  const [typed, setTyped] = useState(Object.fromEntries(from.map((one) => [one.currency, one.text])));
  const problems = fetcher.data && !fetcher.data.ok ? fetcher.data.problems : [];
  const wrong = (path: string) => problems.find((one) => one.path === path)?.says;
  return (
    <NarrowSheet>
      <fetcher.Form method="post" noValidate>
        <Stack>
          <h2>{t("money")}</h2>
          <SelectBox
            label={t("when-money-comes-after-its")}
            name="late"
            defaultValue={late}
            choices={[
              { id: "accept", name: t("take-it-for-the-order") },
              { id: "return", name: t("give-it-back-and-tell") },
              { id: "ask", name: t("ask-a-person") },
            ]}
          />
          <Small>{t("a-bank-or-a-wallet")}</Small>
          <SelectBox
            label={t("fees-for-choosing-a-way")}
            name="fees"
            defaultValue={fees}
            choices={[
              { id: "law", name: t("as-the-law-of-the", { hasForbidden: forbidden ? "yes" : "no" }) },
              { id: "allow", name: t("allowed") },
              { id: "refuse", name: t("refused") },
            ]}
          />
          <Small>{t("we-know-of-no-law", { hasForbidden: forbidden ? "yes" : "no" })}</Small>
          <Row $align="end">
            {from.map(({ currency }) => (
              <AmountBox
                key={currency}
                name={`from-${currency}`}
                label={t("refunds-that-want-two-people", { currency })}
                currency={currency}
                value={typed[currency] ?? ""}
                onChange={(text) => setTyped({ ...typed, [currency]: text })}
                size={10}
                wrong={wrong(`from-${currency}`)}
              />
            ))}
          </Row>
          <Small>{t("left-empty-one-person-is")}</Small>
          {fetcher.data?.ok && fetcher.state === "idle" && <Note meaning="proven">{t("saved")}</Note>}
          <div>
            <Button name="press" value="money" disabled={fetcher.state !== "idle"}>
              {t("save-what-becomes-of-money")}
            </Button>
          </div>
        </Stack>
      </fetcher.Form>
    </NarrowSheet>
  );
}
