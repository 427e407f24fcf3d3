import { useFetcher } from "react-router";
import { styled } from "styled-components";
import { decimalText, parseTyped } from "#core/money/money";
import type { FeeSchedule, MethodFees } from "#core/profiles/profile";
import { Button, Wrong } from "../parts/form";
import { Row, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/costs";

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(9rem, 1fr));
  gap: 0.6rem 1rem;
`;

const amounts = ["fixed", "minimum", "cap", "refund", "dispute"] as const;
const amountWords: Record<(typeof amounts)[number], string> = {
  fixed: t("fixed-part"),
  minimum: t("least-fee"),
  cap: t("greatest-fee"),
  refund: t("each-refund"),
  dispute: t("each-dispute"),
};

export interface FeesAnswer {
  ok: boolean;
  says?: string;
}

/** The fees that were agreed with a provider, in the shop's currency, in the place of those of its profile. */
export function FeesForm({
  subject,
  schedule,
  currency,
  agreed,
  names,
}: {
  subject: string;
  schedule: FeeSchedule;
  currency: string;
  agreed: boolean;
  names: Record<string, string>;
}) {
  const fetcher = useFetcher<FeesAnswer>();
  const text = (minor: number | undefined) =>
    minor === undefined ? "" : decimalText({ amount: minor, currency });
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="subject" value={subject} />
      <Stack $gap={0.8}>
        <Grid>
          <TextBox
            label={t("each-month-currency", { currency })}
            name="monthly"
            inputMode="decimal"
            defaultValue={text(schedule.monthly[currency] ?? 0)}
          />
          <TextBox
            label={t("once-currency", { currency })}
            name="oneOff"
            inputMode="decimal"
            defaultValue={text(schedule.oneOff[currency] ?? 0)}
          />
        </Grid>
        {schedule.methods.map((fees) => (
          <Stack key={fees.method} $gap={0.4}>
            <h4>{names[fees.method] ?? fees.method}</h4>
            <Grid>
              <TextBox
                label={t("percent")}
                name={`${fees.method}-percent`}
                inputMode="decimal"
                defaultValue={fees.percent}
              />
              {amounts.map((name) => (
                <TextBox
                  key={name}
                  label={`${amountWords[name]}, ${currency}`}
                  name={`${fees.method}-${name}`}
                  inputMode="decimal"
                  defaultValue={text(fees[name][currency])}
                />
              ))}
              <TextBox
                label={t("cards-from-abroad-percent")}
                name={`${fees.method}-foreign`}
                inputMode="decimal"
                defaultValue={fees.foreign.percent}
              />
              <TextBox
                label={t("conversion")}
                name={`${fees.method}-conversion`}
                inputMode="decimal"
                defaultValue={fees.conversion}
              />
            </Grid>
            {[...fees.tiers, null].map((tier, i) => (
              <Grid key={i}>
                <TextBox
                  label={t("from-a-months-volume-of", { currency })}
                  name={`${fees.method}-tier-${i}-from`}
                  inputMode="decimal"
                  defaultValue={text(tier?.from[currency])}
                />
                <TextBox
                  label={t("percent-from-there")}
                  name={`${fees.method}-tier-${i}-percent`}
                  inputMode="decimal"
                  defaultValue={tier?.percent ?? ""}
                />
                <TextBox
                  label={t("fixed-part-from-there-currency", { currency })}
                  name={`${fees.method}-tier-${i}-fixed`}
                  inputMode="decimal"
                  defaultValue={text(tier?.fixed[currency])}
                />
              </Grid>
            ))}
          </Stack>
        ))}
        <Wrong>{fetcher.data && !fetcher.data.ok ? fetcher.data.says : null}</Wrong>
        <Row>
          <Button name="press" value="agree" disabled={fetcher.state !== "idle"}>
            {t("keep-these-fees")}
          </Button>
          {agreed && (
            <Button $kind="bare" name="press" value="disagree">
              {t("as-in-the-profile-again")}
            </Button>
          )}
        </Row>
      </Stack>
    </fetcher.Form>
  );
}

const noTier: MethodFees["tiers"][number] = { from: {}, percent: 0, fixed: {} };

/** Reads agreed fees from the form over those that stood there; the name of the field that cannot be read otherwise. */
export function feesFrom(
  form: FormData,
  schedule: FeeSchedule,
  currency: string,
  locale: string,
): { ok: true; schedule: FeeSchedule } | { ok: false; says: string } {
  const wrong: string[] = [];
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const amount = (name: string, was: Record<string, number>): Record<string, number> => {
    const { [currency]: _, ...others } = was;
    if (text(name) === "") return others;
    const parsed = parseTyped(text(name), currency, locale);
    if (!parsed.ok || parsed.money.amount < 0)
      wrong.push(t("name-is-no-amount-of", { name: text(name), currency }));
    return { ...others, [currency]: parsed.ok ? parsed.money.amount : 0 };
  };
  const percent = (name: string): number => {
    const value = Number(text(name).replace(",", ".") || "0");
    if (!(value >= 0 && value <= 100)) wrong.push(t("name-is-no-percentage", { name: text(name) }));
    return value;
  };
  const methods = schedule.methods.map((fees): MethodFees => {
    const of = (name: string) => `${fees.method}-${name}`;
    return {
      ...fees,
      percent: percent(of("percent")),
      ...(Object.fromEntries(amounts.map((name) => [name, amount(of(name), fees[name])])) as Pick<
        MethodFees,
        (typeof amounts)[number]
      >),
      foreign: { ...fees.foreign, percent: percent(of("foreign")) },
      conversion: percent(of("conversion")),
      tiers: [...fees.tiers, noTier].flatMap((tier, i) => {
        const at = (name: string) => of(`tier-${i}-${name}`);
        if (text(at("from")) === "" && Object.keys(tier.from).every((one) => one === currency)) return [];
        return [
          {
            from: amount(at("from"), tier.from),
            percent: percent(at("percent")),
            fixed: amount(at("fixed"), tier.fixed),
          },
        ];
      }),
    };
  });
  const read = {
    monthly: amount("monthly", schedule.monthly),
    oneOff: amount("oneOff", schedule.oneOff),
    methods,
  };
  return wrong[0] ? { ok: false, says: wrong.join(" ") } : { ok: true, schedule: read };
}
