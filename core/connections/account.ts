import { type Said, said } from "../said";
import type { Mode } from "../mode";
import type { AccountReading } from "../profiles/answers";

export interface StorefrontTerms {
  name: string;
  country: string;
  currencies: readonly string[];
}

/** Something that an account read back tells about serving a storefront. `blocking` rules it out. */
export interface AccountFinding {
  code: "may-not-charge" | "currency-not-charged" | "settles-otherwise" | "other-country" | "other-name";
  blocking: boolean;
  says: Said;
}

/** Compares an account with the storefront it is to serve. An empty list: it fits. */
export function compareAccount(account: AccountReading, storefront: StorefrontTerms): AccountFinding[] {
  const findings: AccountFinding[] = [];
  if (!account.mayCharge) {
    findings.push({
      code: "may-not-charge",
      blocking: true,
      says: said("account.may-not-charge", {
        hasReason: account.because ? "yes" : "no",
        reason: account.because ?? "",
      }),
    });
  }
  for (const currency of storefront.currencies) {
    const entry = account.currencies.find((one) => one.charged === currency);
    if (!entry) {
      const says = said("account.cannot-charge", { currency, storefront: storefront.name });
      findings.push({ code: "currency-not-charged", blocking: true, says });
    } else if (entry.settled !== currency) {
      const says = said("account.settles-otherwise", { currency, settled: entry.settled });
      findings.push({ code: "settles-otherwise", blocking: false, says });
    }
  }
  if (account.country !== storefront.country) {
    const says = said("account.other-country", {
      registered: { country: account.country },
      sells: { country: storefront.country },
    });
    findings.push({ code: "other-country", blocking: false, says });
  }
  return findings;
}

/** Compares the accounts of a connection's two columns: they should be one merchant's. `there` is the other column. */
export function compareSides(
  here: AccountReading,
  there: AccountReading | null,
  thereMode: Mode,
): AccountFinding[] {
  if (!there || there.name === here.name) return [];
  const says = said("account.other-name", { here: here.name, mode: thereMode, there: there.name });
  return [{ code: "other-name", blocking: false, says }];
}
