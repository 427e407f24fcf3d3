import { takesFees } from "#core/offers/charge";
import { eq } from "drizzle-orm";
import type { OfferDocument, OfferTerms } from "#core/offers/offer";
import type { Repeats } from "#core/subscriptions/plan";
import { methodOf, type Profile } from "#core/profiles/profile";
import { isOfflineKind, type OfflineKind } from "#core/ways/offline/kinds";
import type { Statement } from "../database/open";
import type { Storefront } from "../database/rows";
import { offerRevisions, offers } from "../database/schema";
import type { Runtime } from "../runtime";
import type { AnyOffer } from "../storefronts/now";

/** What a storefront allows any offer to say, whichever way its money moves. */
export const placeTerms = (storefront: Storefront): PlaceTerms => ({
  storefrontName: storefront.name,
  languages: storefront.languages,
  currencies: storefront.currencies,
  groups: storefront.groups.map((group) => group.id),
  stages: storefront.stages,
  fees: takesFees(storefront),
});

export type PlaceTerms = Pick<
  OfferTerms,
  "storefrontName" | "languages" | "currencies" | "groups" | "stages" | "fees"
>;

/** What a storefront allows an offer without a provider to say. */
export const termsOfOffline = (storefront: Storefront, offline: OfflineKind): OfferTerms => ({
  ...placeTerms(storefront),
  ...{ capture: ["at-once"], authentication: [], offline },
});

/** What storefront and method allow an offer to say. */
export function termsOf(storefront: Storefront, profile: Profile, methodId: string): OfferTerms {
  const method = methodOf(profile, methodId);
  return {
    ...placeTerms(storefront),
    capture: method?.capture ?? [],
    authentication: method?.authentication ?? [],
    ...(method?.needs && { needs: method.needs }),
    ...(profile.operations.quote && { quotes: true }),
    ...(method?.button && { button: method.button }),
    ...(method?.keeps && { keeps: true }),
    ...(method?.keeps && method.repeats && { repeats: true, verifies: method.verifies === true }),
    ...(method?.statement && { statement: method.statement }),
  };
}

/** The same for an offer that is there, whichever way its money moves. */
export function termsFor(storefront: Storefront, one: AnyOffer): OfferTerms {
  const { methodId } = one.offer;
  return one.way === "provider"
    ? termsOf(storefront, one.profile, methodId)
    : termsOfOffline(storefront, isOfflineKind(methodId) ? methodId : "own");
}

/** A document as another storefront can have it: its languages, and only currencies, groups and stages that it has. */
export function documentFor(document: OfferDocument, terms: PlaceTerms): OfferDocument {
  const own = (list: readonly string[], allowed: readonly string[]) =>
    list.filter((one) => allowed.includes(one));
  const any = Object.values(document.wording)[0] ?? { label: "", hint: "" };
  const { charge, afterwards, repeats, ...rest } = document;
  const spoken = Object.entries(afterwards ?? {}).filter(([language]) => terms.languages.includes(language));
  return {
    ...rest,
    ...(spoken.length > 0 && { afterwards: Object.fromEntries(spoken) }),
    ...(repeats && { repeats: repeatsFor(repeats, terms) }),
    // Another storefront may not take the fee.
    ...(charge && (charge.kind === "discount" || terms.fees) && { charge }),
    wording: Object.fromEntries(
      terms.languages.map((language) => [language, document.wording[language] ?? any]),
    ),
    currencies: own(document.currencies, terms.currencies),
    limits: Object.fromEntries(
      Object.entries(document.limits).filter(([currency]) => terms.currencies.includes(currency)),
    ),
    groups: own(document.groups, terms.groups),
    stages: Object.fromEntries(
      Object.entries(document.stages).filter(([, stage]) => terms.stages.includes(stage)),
    ),
  };
}

/** Plans as another storefront can have them: in its languages, and at prices in its currencies. */
function repeatsFor({ plans, ...rest }: Repeats, { languages, currencies }: PlaceTerms): Repeats {
  const priced = (prices: Record<string, number>) =>
    Object.fromEntries(Object.entries(prices).filter(([currency]) => currencies.includes(currency)));
  const named = (names: Record<string, string>) => {
    const [any = ""] = Object.values(names);
    return Object.fromEntries(languages.map((language) => [language, names[language] ?? any]));
  };
  return {
    ...rest,
    plans: plans
      .map((plan) => ({
        ...plan,
        ...{ names: named(plan.names), setUpNames: named(plan.setUpNames) },
        ...{ prices: priced(plan.prices), setUp: priced(plan.setUp) },
        trial: plan.trial && { ...plan.trial, prices: priced(plan.trial.prices) },
      }))
      .filter(({ prices }) => Object.keys(prices).length > 0),
  };
}

/** The statements that make a document the working revision of an offer. */
export function newRevision(
  rt: Runtime,
  person: string,
  offerId: string,
  number: number,
  document: OfferDocument,
): Statement[] {
  const id = rt.ids.next("rev");
  return [
    rt.db.orm.insert(offerRevisions).values({ id, offerId, number, document, person, createdAt: rt.now() }),
    rt.db.orm.update(offers).set({ workingId: id }).where(eq(offers.id, offerId)),
  ];
}
