import type { Mode } from "../mode";
import type { Profile, ProfileMethod } from "./profile";

/** What somebody looks for: where the merchant is, where the shoppers are, what they pay in. */
export interface Wanted {
  merchantCountry: string;
  /** Null: any. */
  shopperCountry: string | null;
  currencies: readonly string[];
  https: boolean;
}

export interface MethodFit {
  id: string;
  fits: boolean;
  because: string[];
}

/** Whether a provider can serve a storefront, and why not. `notes` do not rule it out. */
export interface Fit {
  ok: boolean;
  because: string[];
  notes: string[];
  methods: MethodFit[];
}

const list = (words: readonly string[]) => words.join(", ");

function methodFit(method: ProfileMethod, wanted: Wanted): MethodFit {
  const because: string[] = [];
  const missing = wanted.currencies.filter((currency) => !method.currencies.includes(currency));
  if (missing.length === wanted.currencies.length && missing.length > 0)
    because.push(`${method.name} cannot charge ${list(missing)}`);
  const { shopperCountries } = method;
  if (
    wanted.shopperCountry &&
    shopperCountries.length > 0 &&
    !shopperCountries.includes(wanted.shopperCountry)
  )
    because.push(
      `${method.name} is for shoppers in ${list(shopperCountries)}, not in ${wanted.shopperCountry}`,
    );
  return { id: method.id, fits: because.length === 0, because };
}

/** Holds a profile against what is wanted. A provider that does not fit says why. */
export function fitOf(profile: Profile, wanted: Wanted): Fit {
  const because: string[] = [];
  const notes: string[] = [];
  if (!profile.merchantCountries.includes(wanted.merchantCountry))
    because.push(
      `It takes no merchants in ${wanted.merchantCountry}, only in ${list(profile.merchantCountries.slice(0, 8))}${profile.merchantCountries.length > 8 ? " and others" : ""}`,
    );
  const methods = profile.methods.map((method) => methodFit(method, wanted));
  if (methods.every((one) => !one.fits)) because.push(...methods.flatMap((one) => one.because));
  const partly = wanted.currencies.filter(
    (currency) => !profile.methods.some((method) => method.currencies.includes(currency)),
  );
  if (partly.length > 0 && partly.length < wanted.currencies.length)
    notes.push(`It cannot charge ${list(partly)}`);
  const https: Mode[] = wanted.https ? [] : profile.needsHttps;
  if (https.length > 0) notes.push(`It wants the shop reached by https in ${list(https)}`);
  return { ok: because.length === 0, because, notes, methods };
}
