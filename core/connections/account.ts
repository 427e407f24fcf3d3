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
  says: string;
}

/** Compares an account with the storefront it is to serve. An empty list: it fits. */
export function compareAccount(account: AccountReading, storefront: StorefrontTerms): AccountFinding[] {
  const findings: AccountFinding[] = [];
  if (!account.mayCharge) {
    const because = account.because ? `: ${account.because}` : "";
    findings.push({
      code: "may-not-charge",
      blocking: true,
      says: `The account may not charge yet${because}.`,
    });
  }
  for (const currency of storefront.currencies) {
    const entry = account.currencies.find((one) => one.charged === currency);
    if (!entry) {
      const says = `The account cannot charge ${currency}, which ${storefront.name} sells in.`;
      findings.push({ code: "currency-not-charged", blocking: true, says });
    } else if (entry.settled !== currency) {
      const says = `Charges in ${currency} are paid out in ${entry.settled}; the conversion makes them dearer.`;
      findings.push({ code: "settles-otherwise", blocking: false, says });
    }
  }
  if (account.country !== storefront.country) {
    const says = `The account is registered in ${account.country}, the storefront sells from ${storefront.country}.`;
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
  const says = `This account is in the name of “${here.name}”, the one in the ${thereMode} column in that of “${there.name}”.`;
  return [{ code: "other-name", blocking: false, says }];
}
