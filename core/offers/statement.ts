import type { ProfileMethod } from "../profiles/profile-types";
import { type Said, said } from "../said";
/** What a statement text on a shopper's bank statement suffers from. `blocking`: networks would refuse it. */
export interface StatementFinding {
  blocking: boolean;
  says: Said;
}

export const STATEMENT_LENGTH = { least: 5, most: 22 };

/** What a provider takes, where that is less than is usual. */
export type StatementLimits = NonNullable<ProfileMethod["statement"]>;

/** Checks length, letters and likeness to the storefront's name, which is what a shopper will look for. */
export function checkStatement(
  text: string,
  storefrontName: string,
  limits: StatementLimits = {},
): StatementFinding[] {
  if (text === "") return [];
  const findings: StatementFinding[] = [];
  const most = Math.min(limits.most ?? STATEMENT_LENGTH.most, STATEMENT_LENGTH.most);
  const least = Math.min(STATEMENT_LENGTH.least, most);
  if (text.length < least)
    findings.push({ blocking: true, says: said("statement.least-characters-needed", { least }) });
  if (text.length > most) {
    findings.push({ blocking: true, says: said("statement.too-long", { length: text.length, most }) });
  }
  const odd = [...new Set(text)].filter(
    (one) => !/[A-Za-z0-9 .,&/-]/.test(one) || limits.letters?.includes(one) === false,
  );
  if (odd.length > 0) {
    findings.push({
      blocking: true,
      says: said("statement.statements-cannot-hold", { letters: odd.slice(0, 5).join(" ") }),
    });
  }
  if (!/[A-Za-z]/.test(text))
    findings.push({ blocking: true, says: said("statement.least-one-letter-needed") });
  if (findings.length === 0 && !alike(text, storefrontName)) {
    const says = said("statement.nothing-resembles-shoppers-may", { storefront: storefrontName });
    findings.push({ blocking: false, says });
  }
  return findings;
}

const plain = (text: string) =>
  text
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9 ]/g, "");

/** Whether a word of the name, of four letters or more (or the first four of one), stands in the text. */
function alike(text: string, name: string): boolean {
  const haystack = plain(text).replace(/ /g, "");
  const words = plain(name)
    .split(" ")
    .filter((word) => word.length >= 3);
  return (
    words.length === 0 || words.some((word) => haystack.includes(word.slice(0, Math.max(4, word.length - 3))))
  );
}
