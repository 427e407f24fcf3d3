import { and, eq } from "drizzle-orm";
import type { OfferDocument, OfferTerms } from "#core/offers/offer";
import { proposeStages, unmappedStates } from "#core/payments/stages";
import { said } from "#core/said";
import { offlineInstructions, offlineName } from "#core/ways/offline/defaults";
import { offlineStates } from "#core/ways/offline/states";
import { isOfflineKind, type OfflineKind } from "#core/ways/offline/kinds";
import { blankTerms, type Lack, lacksOf } from "#core/ways/offline/terms";
import { changeSettings } from "../audit/audit";
import type { Storefront } from "../database/rows";
import { offerRevisions, offers } from "../database/schema";
import type { Runtime } from "../runtime";
import { anyOfferIn, mustStand, type OfflineOffer } from "../storefronts/now";
import { alone } from "./alone";
import { nameOf } from "./names";
import { type Changed, LAST } from "./offers";
import { documentFor, termsOfOffline } from "./terms";

/** What a new offer without a provider starts from: names and instructions in each language where we know some. */
function blankOffline(
  kind: OfflineKind,
  { languages, stages }: Pick<OfferTerms, "languages" | "stages">,
): OfferDocument {
  const instructions = languages.flatMap((language) => {
    const text = offlineInstructions(kind, language);
    return text ? [[language, text] as const] : [];
  });
  return {
    wording: Object.fromEntries(languages.map((one) => [one, { label: offlineName(kind, one), hint: "" }])),
    ...{ countries: [], currencies: [], limits: {}, groups: [] },
    ...{ capture: "at-once", authentication: "issuer", statement: "" },
    stages: proposeStages(offlineStates, stages),
    offline: { ...blankTerms(kind), instructions: Object.fromEntries(instructions) },
  };
}

/** Puts a way of paying without a provider on a storefront, in test. There may be several of a kind. */
export const addOffline = (
  rt: Runtime,
  person: string,
  storefrontId: string,
  kind: OfflineKind,
  document?: OfferDocument,
): Promise<Changed> =>
  alone(rt, storefrontId, async ({ now: { storefront }, guards }) => {
    const [id, revisionId] = [rt.ids.next("off"), rt.ids.next("rev")];
    const createdAt = rt.now();
    await changeSettings(rt, { person, action: "offer added", subject: id, detail: { method: kind } }, [
      ...guards,
      rt.db.orm.insert(offers).values({
        ...{ id, storefrontId, way: "offline", connectionId: null, methodId: kind, position: LAST },
        ...{ offInTest: false, offInLive: false, workingId: revisionId, createdAt },
      }),
      rt.db.orm.insert(offerRevisions).values({
        ...{ id: revisionId, offerId: id, number: 1, person, createdAt },
        document: document ?? blankOffline(kind, storefront),
      }),
    ]);
    return { ok: true, id };
  });

/** Copies an offer's working revision to another storefront; there it starts in test. */
export async function copyOffline(
  rt: Runtime,
  person: string,
  { offer, working }: OfflineOffer,
  storefrontId: string,
): Promise<Changed> {
  const kind = isOfflineKind(offer.methodId) ? offer.methodId : "own";
  const { storefront } = await mustStand(rt, storefrontId);
  const there = { ...blankOffline(kind, storefront), ...working.document };
  const document = documentFor(there, termsOfOffline(storefront, kind));
  const offline = document.offline && {
    ...document.offline,
    instructions: Object.fromEntries(
      storefront.languages.flatMap((language) => {
        const text = document.offline?.instructions[language] ?? offlineInstructions(kind, language);
        return text ? [[language, text] as const] : [];
      }),
    ),
  };
  return addOffline(rt, person, storefrontId, kind, { ...document, ...(offline && { offline }) });
}

/** What an offer without a provider lacks before it can go live: words, an account, a stage for each state. */
export function offlineLacks(storefront: Storefront, { offer, working: { document } }: OfflineOffer): Lack[] {
  const { languages, stages } = storefront;
  const kind = isOfflineKind(offer.methodId) ? offer.methodId : "own";
  const names = languages
    .filter((language) => !document.wording[language]?.label.trim())
    .map((language): Lack => ({
      path: `wording.${language}.label`,
      says: said("offline.lacks-name", { language: { language } }),
    }));
  const unmapped = unmappedStates(offlineStates, document.stages, stages);
  return [
    ...names,
    ...(document.offline ? lacksOf(kind, document.offline, languages) : []),
    ...unmapped.map((state): Lack => ({
      path: `stages.${state}`,
      says: said("offline.lacks-stage", { state }),
    })),
  ];
}

/**
 * Has live run the working revision of an offer without a provider, once nothing is lacking. `revision` is the one that was
 * looked at: where somebody saved another since, live stays as it is.
 */
export const putLive = (
  rt: Runtime,
  person: string,
  { storefrontId, offerId }: { storefrontId: string; offerId: string },
  revision?: number,
): Promise<Changed> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const one = anyOfferIn(now, offerId);
    if (one?.way !== "offline") return { ok: false, says: said("offers.no-such-offer") };
    const { number, person: who } = one.working;
    if (revision !== undefined && revision !== number)
      return { ok: false, says: said("offers.overtaken", { offer: nameOf(one), person: who, number }) };
    const [lack] = offlineLacks(now.storefront, one);
    if (lack) return { ok: false, says: lack.says };
    const detail = { revision: one.working.number, before: one.live?.number ?? null };
    await changeSettings(rt, { person, action: "offer put live", subject: offerId, detail }, [
      ...guards,
      rt.db.orm
        .update(offers)
        .set({ liveId: one.working.id, offInLive: false })
        .where(and(eq(offers.id, offerId), eq(offers.way, "offline"))),
    ]);
    return { ok: true, id: offerId };
  });
