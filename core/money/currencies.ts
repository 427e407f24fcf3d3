/**
 * Minor-unit digits of every active ISO 4217 currency code. The runtime's own tables (ICU) deviate from
 * ISO 4217 for several currencies, and money on the wire follows the standard, so the list stands here.
 */
const NONE = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF";
const THREE = "BHD IQD JOD KWD LYD OMR TND";
const FOUR = "CLF UYW";
const TWO =
  "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BMD BND BOB BOV BRL BSD BTN BWP BYN BZD CAD CDF CHE CHF " +
  "CHW CNY COP COU CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD HNL " +
  "HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU " +
  "MUR MVR MWK MXN MXV MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR " +
  "SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD USN UYU UZS VED " +
  "VES WST XCD YER ZAR ZMW ZWG";

const digits = new Map<string, number>();
for (const [list, count] of [
  [NONE, 0],
  [TWO, 2],
  [THREE, 3],
  [FOUR, 4],
] as const) {
  for (const code of list.split(" ")) digits.set(code, count);
}

/** An ISO 4217 alphabetic code that `isCurrency` has accepted. */
export type Currency = string & { readonly __brand?: "Currency" };

export function isCurrency(code: unknown): code is Currency {
  return typeof code === "string" && digits.has(code);
}

/** How many decimals the currency's minor unit has. Throws a RangeError for a code ISO 4217 does not list. */
export function minorDigits(currency: Currency): number {
  const count = digits.get(currency);
  if (count === undefined) throw new RangeError(`not an ISO 4217 currency: ${currency}`);
  return count;
}

export const currencyCodes: readonly Currency[] = [...digits.keys()].sort();
