import { moneyText } from "#core/money/money";
import { type Authentication, type Decision, type Statement, stateWords } from "#core/payments/facts";
import type { AuthenticationResult } from "#core/profiles/profile-types";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/payment";

const named = (reason: string) => reason.replace(/-/g, " ");

const decisionWords: Record<Decision["what"], string> = {
  "take-late": t("taken-for-the-order-although"),
  "set-aside": t("set-aside-the-shopper-pays"),
  "hold-back": t("held-back-until-somebody-has"),
  "let-go-on": t("looked-at-it-may-go"),
};

/** What a statement says, as people read it. Amounts in the payment's currency unless it says another. */
export function factWords(statement: Spoken<Statement>, currency: string, locale: string): string {
  const sum = (amount: number, of = currency) => moneyText({ amount, currency: of }, locale);
  switch (statement.object) {
    case "report":
      return [
        reportWords(statement, sum),
        ...(statement.parts ?? []).map((part) => factWords(part, currency, locale)),
      ].join("; ");
    case "misfit":
      return t("does-not-fit-this-payment", {
        amount: sum(statement.amount, statement.currency),
        reference: statement.reference ? t("for-reference", { reference: statement.reference }) : "",
      });
    case "decision":
      return decisionWords[statement.what];
    case "attempt":
      return `${statement.id ? t("attempt-id", { id: statement.id }) : ""}${
        statement.state === "unanswered" ? t("nobody-has-answered-yet") : stateWords(statement.state)
      }${refusalWords(statement)}`;
    case "authorisation":
      return `${sum(statement.amount)} ${statement.state === "held" ? t("held") : t("held-until-it-ended")}`;
    case "capture":
    case "release":
    case "refund":
      return t("object-of-amount-state", {
        object: statement.object,
        amount: sum(statement.amount),
        state: statement.state,
      });
    case "dispute":
      return t("dispute-about-amount-state-reason", {
        amount: sum(statement.amount),
        state: statement.state,
        reason: statement.reason ? `, “${statement.reason}”` : "",
      });
    case "review":
      return t("check-for-fraud-state", { state: statement.state });
    case "expectation":
      return t("amount-to-come-without-a", { amount: sum(statement.amount) });
    case "authentication":
      return authenticationWords(statement);
    case "instalments":
      return t("agreed-to-payments-amount-total", {
        payments: statement.payments,
        amount: sum(statement.amount),
        total: sum(statement.total),
      });
    case "fee":
      return t("fee-of-amount", { amount: sum(statement.amount, statement.currency) });
    case "settlement":
      return t("amount-paid-out-and-came", {
        amount: sum(statement.amount),
        failed: statement.state === "failed" ? "yes" : "no",
      });
  }
}

function reportWords(
  report: Extract<Spoken<Statement>, { object: "report" }>,
  sum: (amount: number) => string,
) {
  const { status, word, challenge } = report;
  const totals = (["authorised", "captured", "released", "refunded"] as const).flatMap((name) => {
    const amount = report[name];
    return amount ? [`${name} ${sum(amount)}`] : [];
  });
  const stands =
    status === null
      ? t("word-which-no-profile-explains", { word: word ?? "" })
      : status === "pending" && challenge
        ? t("pending-the-shopper-is-asked")
        : status === "to-confirm"
          ? t("prepared-waits-to-be-confirmed")
          : status && stateWords(status);
  return `${[stands, totals.join(", ")].filter(Boolean).join("; ")}${refusalWords(report)}`;
}

const results: Record<AuthenticationResult, string> = {
  "not-asked": t("the-shopper-was-not-asked"),
  exempt: t("not-asked-as-an-exemption"),
  attempted: t("asked-and-the-issuer-could"),
  failed: t("not-proven"),
  passed: t("the-shopper-proved-who-they"),
};

/** What came of asking who the shopper is, and who bears a dispute about that. */
export const authenticationWords = ({ result, liability }: Pick<Authentication, "result" | "liability">) =>
  `${results[result]}${liability ? t("a-dispute-about-it-is", { issuer: liability === "issuer" ? "yes" : "no" }) : ""}`;

/** Why a payment came to nothing, to go behind what became of it. */
export const refusalWords = ({ reason, text, code }: { reason?: string; text?: string; code?: string }) =>
  [
    reason && reason !== "unspecified" ? `: ${named(reason)}` : "",
    text ? `: ${text}` : "",
    code ? ` (${code})` : "",
  ].join("");
