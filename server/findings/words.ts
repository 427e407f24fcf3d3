import { type Said, said } from "#core/said";
import type { FindingRow } from "../database/rows";

type Row = Pick<FindingRow, "kind" | "subject" | "orderReference" | "values">;
type Place = Pick<FindingRow, "kind" | "subject" | "storefrontId">;

/** A finding in one line. */
export const findingTitle = ({ kind, orderReference, values }: Row): Said =>
  said(`findings.${kind}.title`, { ...values, order: orderReference ?? "none" });

/** What it is about, and what can be done. */
export const findingSays = ({ kind, values }: Row): Said => said(`findings.${kind}.says`, values);

/** Where it is looked into. */
export const findingPath = (place: Place): string =>
  place.kind === "work-given-up" || place.kind === "letters-not-taken"
    ? "/jobs"
    : `/s/${place.storefrontId}${pathBelow(place)}`;

function pathBelow({ kind, subject }: Place): string {
  switch (kind) {
    case "key-refused":
    case "fallen-silent":
    case "dispute-unknown":
      return `/connect/${subject}`;
    case "gate-slipped":
      return "/cut-over";
    case "declining":
      return `/operate?mode=live&state=declined&connection=${subject}`;
    case "overdue":
      return "/operate/to-be-paid?mode=live";
    case "in-trouble":
      return `/exchanges?mode=live&connection=${subject}`;
    case "news-not-taken":
      return "/shop";
    case "not-charged":
      return "/operate/subscriptions?mode=live";
    case "not-applied":
      return `/operate/webhooks?mode=live&result=left&connection=${subject}`;
    case "payout-failed":
    case "payout-off":
      return `/operate/payouts/${subject}`;
    default:
      return `/operate/${subject}`;
  }
}
