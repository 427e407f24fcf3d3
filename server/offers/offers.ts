import { type Problem, problem, type Said, said } from "#core/said";
import { and, eq, isNull } from "drizzle-orm";
import { saysTheSame } from "#core/merge";
import { blankOffer, type OfferDocument, type OfferTerms } from "#core/offers/offer";
import type { Mode } from "#core/mode";
import { methodOf } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import type { Statement } from "../database/open";
import type { Storefront } from "../database/rows";
import { offerRevisions, offers } from "../database/schema";
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
} from "../storefronts/now";
import { alone } from "./alone";
import { carriedOn, fits, leftAlone } from "./following";
import { documentFor, newRevision, termsOf } from "./terms";
import { proposalsFor } from "./proposals";
import { clashIn, clashWords, type Contest, inUse, proposedFrom } from "./clash";

/** A change of what is offered: done, or refused; `rivals` are offers that could give way to it, and then it goes. */
export type Changed = { ok: true; id: string } | { ok: false; says: Said; rivals?: Said[] };

/** What is new comes last. */
export const LAST = 1_000_000;

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
  /** `left`: storefronts whose offer follows this one and could not take the change, each with why. */
  | { ok: true; revision: number; left: Said[] }
  | { ok: false; problems: Problem[] }
  /** Somebody saved another revision since the form was opened. */
  | { ok: false; overtakenBy: { number: number; person: string } };

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
    const reading = fits(now, one, input);
    if (!reading.ok) return reading;
    const { working } = one;
    // The same save that comes again, its first answer lost, is the one that was carried out.
    const again = basedOn === working.number - 1 && working.person === person;
    if (again && saysTheSame(working.document, reading.value))
      return { ok: true, revision: working.number, left: [] };
    if (basedOn !== working.number)
      return { ok: false, overtakenBy: { number: working.number, person: working.person } };
    const revision = working.number + 1;
    const followers = await carriedOn(rt, person, one, reading.value);
    const detail = { revision, ...(followers.taken.length > 0 && { followers: followers.taken }) };
    await changeSettings(rt, { person, action: "offer edited", subject: offerId, detail }, [
      ...guards,
      ...newRevision(rt, person, offerId, revision, reading.value),
      ...followers.statements,
    ]);
    return { ok: true, revision, left: followers.left };
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
        ...leftAlone(rt, [offerId]),
      ],
    );
    return { ok: true, id: offerId };
  });

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
