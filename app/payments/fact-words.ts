import { moneyText } from "#core/money/money";
import { type Authentication, type Decision, type Statement, stateWords } from "#core/payments/facts";
import type { AuthenticationResult } from "#core/profiles/profile-types";
import type { Spoken } from "../words/speak";

const named = (reason: string) => reason.replace(/-/g, " ");

const decisionWords: Record<Decision["what"], string> = {
  "take-late": "taken for the order, although it came late",
  "set-aside": "set aside: the shopper pays another way, and is not charged twice",
  "hold-back": "held back until somebody has looked at it",
  "let-go-on": "looked at: it may go on",
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
      return `does not fit this payment: ${sum(statement.amount, statement.currency)}${
        statement.reference ? `, for ${statement.reference}` : ""
      }`;
    case "decision":
      return decisionWords[statement.what];
    case "attempt":
      return `${statement.id ? `attempt ${statement.id}: ` : ""}${
        statement.state === "unanswered" ? "nobody has answered yet" : stateWords(statement.state)
      }${refusalWords(statement)}`;
    case "authorisation":
      return `${sum(statement.amount)} ${statement.state === "held" ? "held" : "held until it ended"}`;
    case "capture":
    case "release":
    case "refund":
      return `${statement.object} of ${sum(statement.amount)}: ${statement.state}`;
    case "dispute":
      return `dispute about ${sum(statement.amount)}: ${statement.state}${
        statement.reason ? `, “${statement.reason}”` : ""
      }`;
    case "review":
      return `check for fraud: ${statement.state}`;
    case "expectation":
      return `${sum(statement.amount)} to come, without a provider`;
    case "authentication":
      return authenticationWords(statement);
    case "instalments":
      return `agreed to ${statement.payments} × ${sum(statement.amount)}, ${sum(statement.total)} in all`;
    case "fee":
      return `fee of ${sum(statement.amount, statement.currency)}`;
    case "settlement":
      return `${sum(statement.amount)} paid out${statement.state === "failed" ? ", and came back" : ""}`;
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
      ? `“${word ?? ""}”, which no profile explains`
      : status === "pending" && challenge
        ? "pending: the shopper is asked"
        : status === "to-confirm"
          ? "prepared: waits to be confirmed by Zahlung"
          : status && stateWords(status);
  return `${[stands, totals.join(", ")].filter(Boolean).join("; ")}${refusalWords(report)}`;
}

const results: Record<AuthenticationResult, string> = {
  "not-asked": "the shopper was not asked who they are",
  exempt: "not asked, as an exemption",
  attempted: "asked, and the issuer could not take part",
  failed: "not proven",
  passed: "the shopper proved who they are",
};

/** What came of asking who the shopper is, and who bears a dispute about that. */
export const authenticationWords = ({ result, liability }: Pick<Authentication, "result" | "liability">) =>
  `${results[result]}${liability ? `; a dispute about it is the ${liability === "issuer" ? "issuer’s" : "shop’s"} to bear` : ""}`;

/** Why a payment came to nothing, to go behind what became of it. */
export const refusalWords = ({ reason, text, code }: { reason?: string; text?: string; code?: string }) =>
  [
    reason && reason !== "unspecified" ? `: ${named(reason)}` : "",
    text ? `: ${text}` : "",
    code ? ` (${code})` : "",
  ].join("");
