import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import type { Clash } from "#core/plan/clashes";
import type { Mode } from "#core/mode";
import { blankOffer, type OfferReading, type OfferTerms, readOffer } from "#core/offers/offer";
import { methodOf, type Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import type { ConnectionWithProfile } from "../connections/connections";
import { isConflict, type Statement } from "../database/open";
import { connections, offerRevisions, offers, profiles, storefronts } from "../database/schema";
import type { Runtime } from "../runtime";
import { type Storefront, storefrontOf } from "../storefronts/storefronts";
import { clashWith } from "./clash";

export type Offer = typeof offers.$inferSelect;
export type Revision = typeof offerRevisions.$inferSelect;

export interface OfferWithRevisions {
  offer: Offer;
  connection: typeof connections.$inferSelect;
  profile: Profile;
  working: Revision;
  live: Revision | null;
}

/** What storefront and method allow an offer to say. */
export function termsOf(storefront: Storefront, profile: Profile, methodId: string): OfferTerms {
  const method = methodOf(profile, methodId);
  return {
    storefrontName: storefront.name,
    languages: storefront.languages,
    currencies: storefront.currencies,
    groups: storefront.groups.map((group) => group.id),
    stages: storefront.stages,
    capture: method?.capture ?? [],
    authentication: method?.authentication ?? [],
  };
}

export type Added = { ok: true; id: string } | { ok: false; says: string };

/**
 * Does a change of what is offered on a storefront as if it were the only one: `work` reads what is there and writes
 * with the guard, which fails when another change came between; then it is done again on what that left.
 */
async function alone<T>(
  rt: Runtime,
  storefrontId: string,
  work: (guard: Statement) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    const [row] = await rt.db.orm
      .select({ version: storefronts.offersVersion })
      .from(storefronts)
      .where(eq(storefronts.id, storefrontId));
    const version = row?.version ?? 0;
    const guard = rt.db.orm
      .update(storefronts)
      // NOT NULL fails, and undoes the rest, unless nothing has changed since it was read.
      .set({
        offersVersion: sql`case when offers_version = ${version} then ${version + 1} else null end` as never,
      })
      .where(eq(storefronts.id, storefrontId));
    try {
      return await work(guard);
    } catch (error) {
      if (!isConflict(error) || attempt === 20) throw error;
    }
  }
}

const clashWords = ({ says, wayOut }: Clash) => `${says} ${wayOut}`;

/**
 * Puts a method of a connection on its storefront. The offer that is there already is kept; one that could not stand
 * beside what is offered there is refused.
 */
export const addOffer = (
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  storefront: Storefront,
  methodId: string,
): Promise<Added> =>
  alone(rt, storefront.id, (guard) => addAlone(rt, person, where, storefront, methodId, guard));

async function addAlone(
  rt: Runtime,
  person: string,
  { connection, profile }: ConnectionWithProfile,
  storefront: Storefront,
  methodId: string,
  guard: Statement,
): Promise<Added> {
  const method = methodOf(profile, methodId);
  if (!method) return { ok: false, says: "The provider has no such method." };
  const [known] = await rt.db.orm
    .select()
    .from(offers)
    .where(
      and(
        eq(offers.connectionId, connection.id),
        eq(offers.methodId, methodId),
        eq(offers.storefrontId, storefront.id),
      ),
    );
  if (known) return { ok: true, id: known.id };
  const clash = clashWith(storefront, await offersOf(rt, storefront.id), {
    offerId: null,
    connectionId: connection.id,
    connectionName: connection.name,
    profile,
    methodId,
    document: { currencies: [] },
  });
  if (clash) return { ok: false, says: clashWords(clash) };
  const id = rt.ids.next("off");
  const revisionId = rt.ids.next("rev");
  const document = blankOffer(method.name, termsOf(storefront, profile, methodId), "");
  await changeSettings(rt, { person, action: "offer added", subject: id, detail: { method: methodId } }, [
    guard,
    rt.db.orm.insert(offers).values({
      id,
      storefrontId: storefront.id,
      connectionId: connection.id,
      methodId,
      position: 1,
      off: false,
      workingId: revisionId,
      createdAt: rt.now(),
    }),
    rt.db.orm
      .insert(offerRevisions)
      .values({ id: revisionId, offerId: id, number: 1, document, person, createdAt: rt.now() }),
  ]);
  return { ok: true, id };
}

export async function offersOf(rt: Runtime, storefrontId: string): Promise<OfferWithRevisions[]> {
  const rows = await rt.db.orm
    .select({ offer: offers, connection: connections, profile: profiles.document })
    .from(offers)
    .innerJoin(connections, eq(connections.id, offers.connectionId))
    .innerJoin(profiles, eq(profiles.id, connections.profileId))
    .where(and(eq(offers.storefrontId, storefrontId), isNull(connections.disconnectedAt)))
    .orderBy(offers.position, offers.createdAt);
  const ids = rows.flatMap(({ offer }) =>
    offer.liveId ? [offer.workingId, offer.liveId] : [offer.workingId],
  );
  const revisions = ids.length
    ? await rt.db.orm.select().from(offerRevisions).where(inArray(offerRevisions.id, ids))
    : [];
  const byId = new Map(revisions.map((one) => [one.id, one]));
  return rows.flatMap((row) => {
    const working = byId.get(row.offer.workingId);
    return working
      ? [{ ...row, working, live: (row.offer.liveId && byId.get(row.offer.liveId)) || null }]
      : [];
  });
}

export async function offerOf(
  rt: Runtime,
  storefrontId: string,
  offerId: string,
): Promise<OfferWithRevisions | null> {
  return (await offersOf(rt, storefrontId)).find((one) => one.offer.id === offerId) ?? null;
}

export type Saved =
  | { ok: true; revision: number }
  | { ok: false; problems: Extract<OfferReading, { ok: false }>["problems"] }
  /** Somebody saved another revision since the form was opened. */
  | { ok: false; overtakenBy: { number: number; person: string } };

/** Saves an edit as a new working revision, unless another was saved since `basedOn`. */
export const saveOffer = (
  rt: Runtime,
  person: string,
  storefront: Storefront,
  offer: OfferWithRevisions,
  input: unknown,
  basedOn: number,
): Promise<Saved> =>
  alone(rt, storefront.id, (guard) => saveAlone(rt, person, storefront, offer, input, basedOn, guard));

async function saveAlone(
  rt: Runtime,
  person: string,
  storefront: Storefront,
  { offer, working, profile, connection }: OfferWithRevisions,
  input: unknown,
  basedOn: number,
  guard: Statement,
): Promise<Saved> {
  const reading = readOffer(input, termsOf(storefront, profile, offer.methodId));
  if (!reading.ok) return reading;
  const clash =
    !offer.off &&
    clashWith(storefront, await offersOf(rt, storefront.id), {
      offerId: offer.id,
      connectionId: connection.id,
      connectionName: connection.name,
      profile,
      methodId: offer.methodId,
      document: reading.document,
    });
  if (clash) return { ok: false, problems: [{ path: "currencies", says: clashWords(clash) }] };
  if (basedOn !== working.number) {
    return { ok: false, overtakenBy: { number: working.number, person: working.person } };
  }
  const number = working.number + 1;
  const id = rt.ids.next("rev");
  try {
    await changeSettings(
      rt,
      { person, action: "offer edited", subject: offer.id, detail: { revision: number } },
      [
        guard,
        rt.db.orm
          .insert(offerRevisions)
          .values({ id, offerId: offer.id, number, document: reading.document, person, createdAt: rt.now() }),
        rt.db.orm.update(offers).set({ workingId: id }).where(eq(offers.id, offer.id)),
      ],
    );
  } catch (error) {
    const [latest] = await rt.db.orm
      .select()
      .from(offerRevisions)
      .where(and(eq(offerRevisions.offerId, offer.id), eq(offerRevisions.number, number)));
    if (!latest) throw error;
    return { ok: false, overtakenBy: { number, person: latest.person } };
  }
  return { ok: true, revision: number };
}

/**
 * Switches an offer off or on. This holds at once, in test and in live. One that could not stand beside what is
 * offered on its storefront stays off.
 */
export async function switchOffer(
  rt: Runtime,
  person: string,
  offerId: string,
  off: boolean,
): Promise<{ ok: true } | { ok: false; says: string }> {
  const [row] = await rt.db.orm.select().from(offers).where(eq(offers.id, offerId));
  return alone(rt, row?.storefrontId ?? "", async (guard) => {
    const clash = off ? null : await clashOnSwitch(rt, offerId);
    if (clash) return { ok: false, says: clashWords(clash) };
    await changeSettings(
      rt,
      { person, action: off ? "offer switched off" : "offer switched on", subject: offerId },
      [guard, rt.db.orm.update(offers).set({ off }).where(eq(offers.id, offerId))],
    );
    return { ok: true };
  });
}

async function clashOnSwitch(rt: Runtime, offerId: string): Promise<Clash | null> {
  const [row] = await rt.db.orm.select().from(offers).where(eq(offers.id, offerId));
  const storefront = row && (await storefrontOf(rt, row.storefrontId));
  if (!storefront) return null;
  const all = await offersOf(rt, storefront.id);
  const one = all.find(({ offer }) => offer.id === offerId);
  if (!one) return null;
  return clashWith(storefront, all, {
    offerId,
    connectionId: one.connection.id,
    connectionName: one.connection.name,
    profile: one.profile,
    methodId: one.offer.methodId,
    document: one.working.document,
  });
}

/** The revision that a mode runs. */
export const revisionFor = (one: OfferWithRevisions, mode: Mode): Revision | null =>
  mode === "test" ? one.working : one.live;
