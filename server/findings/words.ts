import { type Said, said } from "#core/said";
import type { FindingRow } from "../database/rows";

type Row = Pick<FindingRow, "kind" | "subject" | "orderReference" | "values">;

/** A finding in one line. */
export const findingTitle = ({ kind, orderReference, values }: Row): Said =>
  said(`findings.${kind}.title`, { ...values, order: orderReference ?? "none" });

/** What it is about, and what can be done. */
export const findingSays = ({ kind, values }: Row): Said => said(`findings.${kind}.says`, values);

/** Where it is looked into, below the storefront's own path. */
export function findingPath({ kind, subject }: Row): string {
  switch (kind) {
    case "key-refused":
      return `/connect/${subject}`;
    case "gate-slipped":
      return "/cut-over";
    case "declining":
      return `/operate?mode=live&state=declined&connection=${subject}`;
    case "payout-failed":
    case "payout-off":
      return `/operate/payouts/${subject}`;
    default:
      return `/operate/${subject}`;
  }
}
