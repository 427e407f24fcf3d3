import { speaking } from "../../scripts/english";
import { describe, expect, it } from "vitest";
import type { AccountReading } from "../profiles/answers";
import { compareAccount as compareAccountSaid, compareSides as compareSidesSaid } from "./account";

const compareAccount = speaking(compareAccountSaid);
const compareSides = speaking(compareSidesSaid);

const account: AccountReading = {
  account: "KV-S-1",
  name: "Luvwinkel Drachenbau",
  country: "DE",
  currencies: [
    { charged: "EUR", settled: "EUR" },
    { charged: "GBP", settled: "EUR" },
  ],
  mayCharge: true,
};
const findings = (change: Partial<AccountReading>, currencies = ["EUR"]) =>
  compareAccount({ ...account, ...change }, { name: "Luvwinkel DE", country: "DE", currencies }).map(
    ({ code, blocking }) => `${code}${blocking ? "!" : ""}`,
  );

describe("an account held against its storefront", () => {
  it("fits, or says what rules it out and what only makes it dearer", () => {
    expect(findings({})).toEqual([]);
    expect(findings({}, ["EUR", "GBP"])).toEqual(["settles-otherwise"]);
    expect(findings({}, ["EUR", "JPY"])).toEqual(["currency-not-charged!"]);
    expect(findings({ country: "GB" })).toEqual(["other-country"]);
    expect(findings({ mayCharge: false, because: "under review" })).toEqual(["may-not-charge!"]);
  });

  it("names both currencies, and the provider's own reason", () => {
    const says = (change: Partial<AccountReading>, currency: string) =>
      compareAccount({ ...account, ...change }, { name: "UK", country: "DE", currencies: [currency] })[0]
        ?.says;
    expect(says({}, "GBP")).toMatch(/GBP are paid out in EUR/);
    expect(says({}, "JPY")).toMatch(/cannot charge JPY, which UK sells in/);
    expect(says({ mayCharge: false, because: "under review" }, "EUR")).toMatch(/under review/);
  });
});

describe("the accounts of the two columns", () => {
  it("are of one merchant, or say in whose names they are", () => {
    expect(compareSides(account, null, "live")).toEqual([]);
    expect(compareSides(account, { ...account, account: "KV-L-9" }, "live")).toEqual([]);
    expect(compareSides(account, { ...account, name: "Luvwinkel Kites Ltd" }, "live")).toMatchObject([
      {
        code: "other-name",
        blocking: false,
        says: "This account is in the name of “Luvwinkel Drachenbau”, the one in the live column in that of “Luvwinkel Kites Ltd”.",
      },
    ]);
  });
});
