import { type Problem, problem, type Said, said, sentences } from "#core/said";
import { and, eq, isNull, sql } from "drizzle-orm";
import type { Clash } from "#core/offers/clashes";
import { blankOffer, type OfferDocument, type OfferTerms, readOffer } from "#core/offers/offer";
import type { Mode } from "#core/mode";
import { methodOf, type Profile } from "#core/profiles/profile";
import { isOfflineKind, type OfflineKind } from "#core/ways/offline/kinds";
import { changeSettings } from "../audit/audit";
import { guard, guardFailed } from "../database/guard";
import type { Statement } from "../database/open";
import type { Storefront } from "../database/rows";
import { offerRevisions, offers, storefronts } from "../database/schema";
import type { Runtime } from "../runtime";
import {
  type AnyOffer,
  anyOfferIn,
  type ConnectionNow,
  connectionIn,
  isOff,
  mustStand,
  offerIn,
  type OfferWithRevisions,
  runsInLive,
  type StorefrontNow,
} from "../storefronts/now";
import { proposalsFor } from "./proposals";
import { clashIn, type Contest, inUse, proposedFrom } from "./clash";

const termsHere = (storefront: Storefront) => ({
  storefrontName: storefront.name,
  languages: storefront.languages,
  currencies: storefront.currencies,
  groups: storefront.groups.map((group) => group.id),
  stages: storefront.stages,
});

/** What a storefront allows an offer without a provider to say. */
export const termsOfOffline = (storefront: Storefront, offline: OfflineKind): OfferTerms => ({
  ...termsHere(storefront),
  ...{ capture: ["at-once"], authentication: [], offline },
});

/** What storefront and method allow an offer to say. */
export function termsOf(storefront: Storefront, profile: Profile, methodId: string): OfferTerms {
  const method = methodOf(profile, methodId);
  return {
    ...termsHere(storefront),
    capture: method?.capture ?? [],
    authentication: method?.authentication ?? [],
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

/** A change of what is offered: done, or refused; `rivals` are offers that could give way to it, and then it goes. */
export type Changed = { ok: true; id: string } | { ok: false; says: Said; rivals?: Said[] };

/** What is new comes last. */
export const LAST = 1_000_000;

/** Everything a change of offers starts from: how the storefront stands, and the guard that it still does at the write. */
interface Alone {
  now: StorefrontNow;
  guards: Statement[];
}

/**
 * The statements that hold a change of offers or levers to the storefront as it was read, and make every other such
 * change see that it came.
 */
export const offersUnchanged = (
  rt: Runtime,
  { id, offersVersion }: Pick<Storefront, "id" | "offersVersion">,
): Statement[] => [
  guard(storefronts, and(eq(storefronts.id, id), eq(storefronts.offersVersion, offersVersion))),
  rt.db.orm
    .update(storefronts)
    .set({ offersVersion: sql`${storefronts.offersVersion} + 1` })
    .where(eq(storefronts.id, id)),
];

/**
 * Does a change of what is offered on a storefront as if it were the only one: `work` reads what is there and writes
 * with the guards, which fail when another change came between; then it is done again on what that left.
 */
export async function alone<T>(
  rt: Runtime,
  storefrontId: string,
  work: (start: Alone) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    const now = await mustStand(rt, storefrontId);
    try {
      return await work({ now, guards: offersUnchanged(rt, now.storefront) });
    } catch (error) {
      if (!guardFailed(error) || attempt === 20) throw error;
    }
  }
}

const clashWords = ({ says, wayOut }: Clash) => sentences([says, wayOut]);

const refusedBy = ({ clash, rivals }: Contest): { ok: false; says: Said; rivals: Said[] } => ({
  ok: false,
  says: clashWords(clash),
  rivals: rivals.map((one) =>
    said("offers.offer-of-account", {
      label: one.working.document.wording.en?.label ?? one.offer.methodId,
      account: one.connection.name,
    }),
  ),
});

/** Rivals give way in test: switched off there, and left as they are in live. */
const giveWay = (rt: Runtime, rivals: readonly OfferWithRevisions[]): Statement[] =>
  rivals.map((one) => rt.db.orm.update(offers).set({ offInTest: true }).where(eq(offers.id, one.offer.id)));

/**
 * Puts a method of a connection on its storefront, in test. The offer that is there already is kept. One that could not
 * stand beside what test offers there is refused, unless it is to take the place of what is in its way: that is then
 * switched off in test in the same transaction, and goes on in live.
 */
export const addOffer = (
  rt: Runtime,
  person: string,
  { connection }: Pick<ConnectionNow, "connection">,
  storefront: Pick<Storefront, "id">,
  methodId: string,
  { inPlace = false, document }: { inPlace?: boolean; document?: (terms: OfferTerms) => OfferDocument } = {},
): Promise<Changed> =>
  alone(rt, storefront.id, async ({ now, guards }) => {
    const where = connectionIn(now, connection.id);
    if (!where) return { ok: false, says: said("offers.connection-does-not-serve") };
    const { profile } = where;
    const method = methodOf(profile, methodId);
    if (!method) return { ok: false, says: said("offers.provider-no-such-method") };
    const known = now.offers.find(
      (one) => one.connection.id === connection.id && one.offer.methodId === methodId,
    );
    if (known) return { ok: true, id: known.offer.id };
    const terms = termsOf(now.storefront, profile, methodId);
    const offered = document?.(terms) ?? blankOffer(method, terms, proposalsFor(now, profile, method, terms));
    const contest = clashIn(now.storefront, inUse(now, "test"), "test", {
      offerId: null,
      connectionId: connection.id,
      connectionName: connection.name,
      profile,
      methodId,
      document: offered,
    });
    if (contest && !(inPlace && contest.rivals.length > 0)) return refusedBy(contest);
    const id = rt.ids.next("off");
    const revisionId = rt.ids.next("rev");
    const detail = {
      method: methodId,
      ...(contest && { inPlaceOf: contest.rivals.map((one) => one.offer.id) }),
    };
    await changeSettings(rt, { person, action: "offer added", subject: id, detail }, [
      ...guards,
      ...giveWay(rt, contest?.rivals ?? []),
      rt.db.orm.insert(offers).values({
        id,
        storefrontId: storefront.id,
        connectionId: connection.id,
        methodId,
        position: LAST,
        offInTest: false,
        offInLive: false,
        workingId: revisionId,
        createdAt: rt.now(),
      }),
      rt.db.orm.insert(offerRevisions).values({
        id: revisionId,
        offerId: id,
        number: 1,
        document: offered,
        person,
        createdAt: rt.now(),
      }),
    ]);
    return { ok: true, id };
  });

/** The offers of a storefront, in the order that shoppers see them. */
export const offersOf = async (rt: Runtime, storefrontId: string): Promise<OfferWithRevisions[]> =>
  (await mustStand(rt, storefrontId)).offers;

export const offerOf = async (
  rt: Runtime,
  storefrontId: string,
  offerId: string,
): Promise<OfferWithRevisions | null> => offerIn(await mustStand(rt, storefrontId), offerId);

export type Saved =
  | { ok: true; revision: number }
  | { ok: false; problems: Problem[] }
  /** Somebody saved another revision since the form was opened. */
  | { ok: false; overtakenBy: { number: number; person: string } };

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

/** Saves an edit as a new working revision, unless another was saved since `basedOn`. */
export const saveOffer = (
  rt: Runtime,
  person: string,
  storefront: Pick<Storefront, "id">,
  { offer: { id: offerId } }: Pick<AnyOffer, "offer">,
  input: unknown,
  basedOn: number,
): Promise<Saved> =>
  alone(rt, storefront.id, async ({ now, guards }) => {
    const one = anyOfferIn(now, offerId);
    if (!one) return { ok: false, problems: [problem("", "offers.offer-removed")] };
    const reading = readOffer(input, {
      ...termsFor(now.storefront, one),
      zones: now.zones.map(({ id }) => id),
    });
    if (!reading.ok) return reading;
    const contest =
      one.way === "provider" &&
      !one.offer.offInTest &&
      clashIn(now.storefront, inUse(now, "test"), "test", {
        ...proposedFrom(one, "test"),
        connectionName: one.connection.name,
        document: reading.value,
      });
    if (contest) return { ok: false, problems: [{ path: "currencies", ...clashWords(contest.clash) }] };
    const { working } = one;
    if (basedOn !== working.number)
      return { ok: false, overtakenBy: { number: working.number, person: working.person } };
    const revision = working.number + 1;
    await changeSettings(rt, { person, action: "offer edited", subject: offerId, detail: { revision } }, [
      ...guards,
      ...newRevision(rt, person, offerId, revision, reading.value),
    ]);
    return { ok: true, revision };
  });

/**
 * Switches an offer off or on in a mode, at once. One that could not stand beside what is offered in that mode stays
 * off; in test it may take the place of what is in its way. In live, only what was cut over can be switched.
 */
export const switchOffer = (
  rt: Runtime,
  person: string,
  { storefrontId, offerId }: { storefrontId: string; offerId: string },
  mode: Mode,
  off: boolean,
  { inPlace = false } = {},
): Promise<Changed> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const one = anyOfferIn(now, offerId);
    if (!one) return { ok: false, says: said("offers.no-such-offer") };
    if (isOff(one, mode) === off) return { ok: true, id: offerId };
    const contest =
      off || one.way === "offline"
        ? null
        : clashIn(now.storefront, inUse(now, mode), mode, proposedFrom(one, mode));
    const yields = contest !== null && mode === "test" && inPlace && contest.rivals.length > 0;
    if (contest && !yields)
      return mode === "test" ? refusedBy(contest) : { ok: false, says: clashWords(contest.clash) };
    await changeSettings(
      rt,
      {
        person,
        action: off ? "offer switched off" : "offer switched on",
        subject: offerId,
        detail: { mode, ...(contest && { inPlaceOf: contest.rivals.map((rival) => rival.offer.id) }) },
      },
      [
        ...guards,
        ...giveWay(rt, contest?.rivals ?? []),
        rt.db.orm
          .update(offers)
          .set(mode === "test" ? { offInTest: off } : { offInLive: off })
          .where(eq(offers.id, offerId)),
      ],
    );
    return { ok: true, id: offerId };
  });

/** Puts a storefront's offers into the order that shoppers see them in; those that are not named come behind, as they were. */
export const orderOffers = (
  rt: Runtime,
  person: string,
  storefrontId: string,
  ids: readonly string[],
): Promise<Changed> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const all = now.inOrder.map(({ offer }) => offer.id);
    const wanted = [...new Set(ids)].filter((id) => all.includes(id));
    const order = [...wanted, ...all.filter((id) => !wanted.includes(id))];
    if (order.every((id, i) => id === all[i])) return { ok: true, id: storefrontId };
    await changeSettings(rt, { person, action: "offers ordered", subject: storefrontId, detail: { order } }, [
      ...guards,
      ...order.map((id, i) =>
        rt.db.orm
          .update(offers)
          .set({ position: i + 1 })
          .where(eq(offers.id, id)),
      ),
    ]);
    return { ok: true, id: storefrontId };
  });

/**
 * Takes an offer off its storefront for good. Its payments stay and go on: what is under way can still be captured,
 * released and refunded with the keys it began with.
 */
export const removeOffer = (
  rt: Runtime,
  person: string,
  { storefrontId, offerId }: { storefrontId: string; offerId: string },
): Promise<Changed> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const one = anyOfferIn(now, offerId);
    if (!one) return { ok: false, says: said("offers.no-such-offer") };
    if (runsInLive(one) && !one.offer.offInLive)
      return {
        ok: false,
        says: said("offers.shoppers-pay-live-switch"),
      };
    await changeSettings(
      rt,
      { person, action: "offer removed", subject: offerId, detail: { method: one.offer.methodId } },
      [
        ...guards,
        rt.db.orm
          .update(offers)
          .set({ removedAt: rt.now(), liveId: null })
          .where(and(eq(offers.id, offerId), isNull(offers.removedAt))),
      ],
    );
    return { ok: true, id: offerId };
  });

/** A document as another storefront can have it: its languages, and only currencies, groups and stages that it has. */
export function documentFor(document: OfferDocument, terms: OfferTerms): OfferDocument {
  const own = (list: readonly string[], allowed: readonly string[]) =>
    list.filter((one) => allowed.includes(one));
  const any = Object.values(document.wording)[0] ?? { label: "", hint: "" };
  return {
    ...document,
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

/** Copies an offer's working revision to another storefront that its connection serves; there it starts in test. */
export async function copyOffer(
  rt: Runtime,
  person: string,
  one: OfferWithRevisions,
  storefrontId: string,
): Promise<Changed> {
  const there = await mustStand(rt, storefrontId);
  if (
    there.offers.some(
      (other) => other.connection.id === one.connection.id && other.offer.methodId === one.offer.methodId,
    )
  )
    return { ok: false, says: said("offers.offer-already", { storefront: there.storefront.name }) };
  return addOffer(rt, person, one, there.storefront, one.offer.methodId, {
    document: (terms) => documentFor(one.working.document, terms),
  });
}
