import { type Said, countries, said } from "../said";
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
  because: Said[];
}

/** Whether a provider can serve a storefront, and why not. `notes` do not rule it out. */
export interface Fit {
  ok: boolean;
  because: Said[];
  notes: Said[];
  methods: MethodFit[];
}

function methodFit(method: ProfileMethod, wanted: Wanted): MethodFit {
  const because: Said[] = [];
  const missing = wanted.currencies.filter((currency) => !method.currencies.includes(currency));
  if (missing.length === wanted.currencies.length && missing.length > 0)
    because.push(said("fit.cannot-charge", { method: method.name, currencies: missing }));
  const { shopperCountries } = method;
  if (
    wanted.shopperCountry &&
    shopperCountries.length > 0 &&
    !shopperCountries.includes(wanted.shopperCountry)
  )
    because.push(
      said("fit.not-for-country", {
        method: method.name,
        countries: countries(shopperCountries),
        country: { country: wanted.shopperCountry },
      }),
    );
  return { id: method.id, fits: because.length === 0, because };
}

/** Holds a profile against what is wanted. A provider that does not fit says why. */
export function fitOf(profile: Profile, wanted: Wanted): Fit {
  const because: Said[] = [];
  const notes: Said[] = [];
  if (!profile.merchantCountries.includes(wanted.merchantCountry))
    because.push(
      said("fit.takes-no-merchants-only", {
        country: { country: wanted.merchantCountry },
        countries: countries(profile.merchantCountries.slice(0, 8)),
        more: Math.max(0, profile.merchantCountries.length - 8),
      }),
    );
  const methods = profile.methods.map((method) => methodFit(method, wanted));
  if (methods.every((one) => !one.fits)) because.push(...methods.flatMap((one) => one.because));
  const partly = wanted.currencies.filter(
    (currency) => !profile.methods.some((method) => method.currencies.includes(currency)),
  );
  if (partly.length > 0 && partly.length < wanted.currencies.length)
    notes.push(said("fit.cannot-charge-some", { currencies: partly }));
  const https: Mode[] = wanted.https ? [] : profile.needsHttps;
  if (https.length > 0) notes.push(said("fit.wants-shop-reached-https", { modes: https }));
  return { ok: because.length === 0, because, notes, methods };
}
