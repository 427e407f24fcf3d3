import { mergeEdits } from "../merge";
import { decimalText, parseTyped } from "../money/money";
import { type Problem, problem, type Reading, said } from "../said";

/** What becomes of money that comes after its checkout was over: the order is paid, the money goes back, or a person decides. */
export const lateTerms = ["accept", "return", "ask"] as const;
export type LateTerm = (typeof lateTerms)[number];

/** What an owner has set about a storefront's money. */
export interface MoneyTerms {
  late: LateTerm;
  /** From which amount on a refund needs a second person: minor units by ISO 4217 code; none for what is not named. */
  secondPersonFrom: Readonly<Record<string, number>>;
  /** Whether ways of paying may cost a fee; not said: as the law of the shop's country has it. */
  choiceFees?: boolean;
}

export const usualTerms: MoneyTerms = { late: "accept", secondPersonFrom: {} };

/** What an owner has set, as the form shows it: `late`, `fees` and `from-EUR` for each currency. */
export const moneyEntryOf = (
  { late, choiceFees, secondPersonFrom }: MoneyTerms,
  currencies: readonly string[],
): Record<string, string> => ({
  late,
  fees: choiceFees === undefined ? "law" : choiceFees ? "allow" : "refuse",
  ...Object.fromEntries(
    currencies.map((currency) => {
      const amount = Object.hasOwn(secondPersonFrom, currency) ? secondPersonFrom[currency] : undefined;
      return [`from-${currency}`, amount === undefined ? "" : decimalText({ amount, currency })];
    }),
  ),
});

/**
 * Puts what one owner chose together with what another saved since they began: what they left alone is as the other has it.
 * Where both changed one thing, its problem says what the other chose, and it is mine that stands in `entry`.
 */
export function moneyBesideOthers(
  began: Readonly<Record<string, string>>,
  mine: Readonly<Record<string, string>>,
  now: Readonly<Record<string, string>>,
): { entry: Record<string, string>; problems: Problem[] } {
  const { merged, conflicts } = mergeEdits(began, mine, now);
  const problems = conflicts.map(({ path, theirs }) => {
    const value = String(theirs ?? "");
    const code = path === "late" || path === "fees" ? path : "from";
    return problem(path, `money-terms.${code}-meanwhile`, { theirs: value || said("storefront.nothing") });
  });
  return { entry: { ...merged }, problems };
}

/** Reads what was typed about money: amounts by currency as `locale` writes them, empty for none. */
export function readMoneyTerms(
  { late, fees }: { late: string; fees: string },
  amounts: Readonly<Record<string, string>>,
  locale: string,
): Reading<MoneyTerms> {
  const problems: Problem[] = [];
  const secondPersonFrom: Record<string, number> = {};
  const choiceFees = fees === "allow" ? true : fees === "refuse" ? false : null;
  const term = lateTerms.find((one) => one === late);
  if (!term) problems.push(problem("late", "money-terms.late-unknown"));
  for (const [currency, text] of Object.entries(amounts)) {
    if (text.trim() === "") continue;
    const typed = parseTyped(text, currency, locale);
    if (typed.ok && typed.money.amount > 0) secondPersonFrom[currency] = typed.money.amount;
    else problems.push(problem(`from-${currency}`, "money-terms.no-amount", { currency }));
  }
  return problems.length > 0 || !term
    ? { ok: false, problems }
    : {
        ok: true,
        value: { late: term, secondPersonFrom, ...(choiceFees !== null && { choiceFees }) },
      };
}

/** Whether a refund, in minor units of a currency, needs a second person. */
export const needsSecondPerson = (
  { secondPersonFrom }: MoneyTerms,
  { amount, currency }: { amount: number; currency: string },
): boolean => Object.hasOwn(secondPersonFrom, currency) && amount >= (secondPersonFrom[currency] ?? Infinity);
