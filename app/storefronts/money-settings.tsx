import { useRef, useState } from "react";
import { useFetcher } from "react-router";
import { useAnswer } from "../parts/answer";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Row, Small, Stack } from "../parts/sheet";
import { AmountBox } from "../parts/text-box";
import type { SpokenProblem } from "../words/speak";
import { NarrowSheet } from "./storefront-form";
import { t } from "../words/pages/storefronts";

/** What an owner has set about money, as the form shows it: `late`, `fees`, and `from-EUR` for each currency. */
export type MoneyShown = Record<string, string>;

type Answer =
  | { ok: true; money?: MoneyShown }
  | { ok: false; problems: SpokenProblem[]; money?: MoneyShown; late?: true };

/** What an owner sets about money: what becomes of what comes late, and which refunds want two people. */
export function MoneySettings({
  money,
  currencies,
  forbidden,
}: {
  money: MoneyShown;
  currencies: readonly string[];
  /** Whether the law of the shop's country forbids fees. */
  forbidden: boolean;
}) {
  const fetcher = useFetcher<Answer>();
  // What it began with tells what was chosen here from what somebody else saves meanwhile.
  const [began, setBegan] = useState(money);
  const [chosen, setChosen] = useState(money);
  const sent = useRef(chosen);
  const put = (name: string) => (text: string) => setChosen((before) => ({ ...before, [name]: text }));
  useAnswer(fetcher.data, (answer) => {
    const { ok, money: now } = answer;
    if (!now) return;
    setBegan(now);
    // What was left alone is as it stands now; what was chosen otherwise, or while a save was on its way, stays.
    const left = ok ? sent.current : began;
    setChosen((mine) =>
      Object.fromEntries(
        Object.entries(now).map(([name, text]) => {
          const own = mine[name] ?? "";
          return [name, own === left[name] ? text : own];
        }),
      ),
    );
  });
  const refused = fetcher.data && !fetcher.data.ok ? fetcher.data : null;
  const problems = refused?.problems ?? [];
  const wrong = (path: string) => problems.find((one) => one.path === path)?.says;
  return (
    <NarrowSheet>
      <fetcher.Form method="post" noValidate onSubmit={() => (sent.current = chosen)}>
        {Object.entries(began).map(([name, text]) => (
          <input key={name} type="hidden" name={`began-${name}`} value={text} />
        ))}
        <Stack>
          <h2>{t("money")}</h2>
          <SelectBox
            label={t("when-money-comes-after-its")}
            name="late"
            value={chosen.late}
            onChange={put("late")}
            wrong={wrong("late")}
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
            value={chosen.fees}
            onChange={put("fees")}
            wrong={wrong("fees")}
            choices={[
              { id: "law", name: t("as-the-law-of-the", { hasForbidden: forbidden ? "yes" : "no" }) },
              { id: "allow", name: t("allowed") },
              { id: "refuse", name: t("refused") },
            ]}
          />
          <Small>{t("we-know-of-no-law", { hasForbidden: forbidden ? "yes" : "no" })}</Small>
          <Row $align="end">
            {currencies.map((currency) => (
              <AmountBox
                key={currency}
                name={`from-${currency}`}
                label={t("refunds-that-want-two-people", { currency })}
                currency={currency}
                value={chosen[`from-${currency}`] ?? ""}
                onChange={put(`from-${currency}`)}
                size={10}
                wrong={wrong(`from-${currency}`)}
              />
            ))}
          </Row>
          <Small>{t("left-empty-one-person-is")}</Small>
          {refused?.late && <Note meaning="wrong">{t("not-saved-somebody-saved")}</Note>}
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
