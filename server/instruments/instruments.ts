import { createHash } from "node:crypto";
import { and, desc, eq, inArray, ne, or, sql } from "drizzle-orm";
import { isOver, type KeepScope, type KeptInstrument } from "#core/instruments";
import type { Mode } from "#core/mode";
import type { KeptReading, PaymentReading } from "#core/profiles/answers";
import type { Statement } from "../database/open";
import { rowsBy } from "../database/prepared";
import type { InstrumentRow, Payment } from "../database/rows";
import { instruments, payments, subscriptions } from "../database/schema";
import { askFor } from "../jobs/jobs";
import { isThroughProvider, laneOf } from "../payments/road";
import type { Runtime } from "../runtime";

/** A shopper of a storefront, in the shop's own words. */
export interface Shopper {
  storefrontId: string;
  mode: Mode;
  shopper: string;
}

const digestOf = (id: string) => createHash("sha256").update(id).digest("hex");
/** What the provider's id is sealed for: for itself, so that it can be kept anew after it was forgotten. */
const purposeOf = (digest: string) => `instrument ${digest.slice(0, 64)}`;

/** The statement that keeps what a payment was paid with, where its shopper wanted that; none otherwise. The same is kept once. */
export function keepingOf(
  rt: Runtime,
  payment: Payment,
  { shopper, subscriptionId }: { shopper: string | undefined; subscriptionId: string | null },
  kept: PaymentReading["kept"],
): Statement[] {
  const { keeping } = payment;
  if (!kept || !keeping || shopper === undefined || !isThroughProvider(payment) || payment.offerId === null)
    return [];
  const id = rt.ids.next("ins");
  const digest = digestOf(kept.id);
  const anew = {
    ...{ paymentId: payment.id, scope: keeping.scope, consent: keeping.consent },
    sealed: rt.seal.close(kept.id, purposeOf(digest)),
    name: (kept.name ?? payment.instrument ?? payment.methodId).slice(0, 80),
    ...{ until: kept.until ?? null, state: "kept" as const },
    networkReference: kept.networkReference ?? null,
  };
  const one = and(
    eq(instruments.connectionId, payment.connectionId),
    eq(instruments.mode, payment.mode),
    eq(instruments.shopper, shopper),
    eq(instruments.digest, digest),
  );
  return [
    rt.db.orm
      .insert(instruments)
      .values({
        ...{ id, storefrontId: payment.storefrontId, connectionId: payment.connectionId },
        ...{ mode: payment.mode, offerId: payment.offerId, methodId: payment.methodId, shopper, digest },
        ...{ ...anew, createdAt: rt.now() },
      })
      // Kept again after it was forgotten, by a payment that was made since; what is told of an earlier one changes nothing.
      .onConflictDoUpdate({
        target: [instruments.connectionId, instruments.mode, instruments.shopper, instruments.digest],
        set: { ...anew, forgottenAt: null },
        setWhere: sql`${instruments.forgottenAt} < ${payment.createdAt}`,
      }),
    // What was kept before may be agreed to be charged again only now.
    ...(kept.networkReference
      ? [rt.db.orm.update(instruments).set({ networkReference: kept.networkReference }).where(one)]
      : []),
    ...(subscriptionId === null
      ? []
      : [
          rt.db.orm
            .update(subscriptions)
            .set({
              instrumentId: sql`(select ${instruments.id} from ${instruments} where ${one})`,
              offerId: payment.offerId,
            })
            // What is told later of a payment changes nothing once another was agreed to, or something else was chosen.
            .where(
              and(
                eq(subscriptions.id, subscriptionId),
                ne(subscriptions.state, "ended"),
                sql`json_extract(${subscriptions.mandate}, '$.at') = ${keeping.consent.at}`,
                sql`not exists (select 1 from subscription_events e where e.subscription_id = ${subscriptions.id}
                  and json_extract(e.event, '$.what') = 'instrument-changed' and e.at > ${keeping.consent.at})`,
              ),
            ),
        ]),
  ];
}

/** The statements that write down what a provider tells of something kept: it is gone over there, or is called otherwise. */
export function changed(
  rt: Runtime,
  { connectionId, mode }: { connectionId: string; mode: Mode },
  { id, gone, name, until }: KeptReading & { gone: boolean },
): Statement[] {
  const which = and(
    eq(instruments.connectionId, connectionId),
    eq(instruments.mode, mode),
    eq(instruments.digest, digestOf(id)),
  );
  const change = gone
    ? { state: "forgotten" as const, forgottenAt: rt.now(), sealed: null }
    : { ...(name && { name: name.slice(0, 80) }), ...(until !== undefined && { until }) };
  if (Object.keys(change).length === 0) return [];
  return [
    rt.db.orm
      .update(instruments)
      .set(change)
      .where(and(which, eq(instruments.state, "kept"))),
  ];
}

const isOf = ({ storefrontId, mode, shopper }: Shopper) =>
  and(
    eq(instruments.shopper, shopper),
    eq(instruments.mode, mode),
    eq(instruments.state, "kept"),
    reaches(storefrontId),
  );

/** Kept on this storefront; or on another for all that the connection serves, where it serves this one too. */
const reaches = (storefrontId: string) =>
  or(
    eq(instruments.storefrontId, storefrontId),
    and(
      eq(instruments.scope, "shop"),
      sql`exists (select 1 from connection_storefronts s where s.connection_id = ${instruments.connectionId} and s.storefront_id = ${storefrontId})`,
    ),
  );

const rowsOf = (rt: Runtime, whose: Shopper): Promise<InstrumentRow[]> =>
  rt.db.orm
    .select()
    .from(instruments)
    .where(isOf(whose))
    .orderBy(
      sql`${instruments.chosenAt} is null`,
      desc(instruments.chosenAt),
      desc(instruments.usedAt),
      desc(instruments.createdAt),
      desc(instruments.id),
    );

/** What people read of something kept: what its shopper calls it, and what its provider does. */
export const nameOf = ({ called, name }: Pick<InstrumentRow, "called" | "name">): string =>
  called === "" ? name : `${called} · ${name}`;

/** What a shopper has kept that can still be used, the one to be shown first before the others. */
export async function keptOf(
  rt: Runtime,
  whose: Shopper,
): Promise<
  (KeptInstrument &
    Pick<InstrumentRow, "storefrontId" | "connectionId" | "methodId" | "createdAt"> & {
      called: string;
      /** Whether its shopper agreed to be charged without being there, as far as the card network says so. */
      mayBeCharged: boolean;
    })[]
> {
  const rows = (await rowsOf(rt, whose)).filter((one) => !isOver(one, rt.now()));
  return rows.map(({ id, offerId, until, storefrontId, connectionId, methodId, ...row }, i) => ({
    ...{ id, offerId, until, storefrontId, connectionId, methodId, createdAt: row.createdAt },
    ...{ name: nameOf(row), called: row.called },
    ...{ usual: i === 0, mayBeCharged: row.networkReference !== null },
  }));
}

/** The way an offer's money moves, and for where it lets shoppers keep what they pay with. */
export interface KeepingRoad {
  connectionId: string;
  methodId: string;
  keeps: KeepScope;
}

/** Whether something kept pays through an offer: by the same account and method, and here where it was kept for here alone. */
export const paysBy = (
  one: Pick<InstrumentRow, "connectionId" | "methodId" | "storefrontId">,
  { connectionId, methodId, keeps }: KeepingRoad,
  { storefrontId }: Pick<Shopper, "storefrontId">,
): boolean =>
  one.connectionId === connectionId &&
  one.methodId === methodId &&
  (keeps === "shop" || one.storefrontId === storefrontId);

/** The provider's id of something that is kept, for the payment that uses it; null: it cannot be used here. */
export async function idAtProvider(
  rt: Runtime,
  whose: Shopper,
  road: KeepingRoad,
  id: string,
): Promise<string | null> {
  const row = (await rowsOf(rt, whose)).find((one) => one.id === id);
  return row && paysBy(row, road, whose) && !isOver(row, rt.now()) ? atProvider(rt, row) : null;
}

const byId = rowsBy(instruments, ["id"]);

export async function instrumentRow(rt: Runtime, id: string | null): Promise<InstrumentRow | null> {
  const [row] = await byId(rt.db).all({ id: id ?? "" });
  return row ?? null;
}

/** Something kept as it is charged without its shopper; null where it cannot be any more. */
export async function chargeable(
  rt: Runtime,
  id: string | null,
): Promise<{ kept: string; networkReference: string | null; row: InstrumentRow } | null> {
  const row = await instrumentRow(rt, id);
  const kept = row?.state === "kept" ? atProvider(rt, row) : null;
  return row && kept !== null ? { kept, networkReference: row.networkReference, row } : null;
}

/** The statement that has something forgotten here which its provider says it has no more. */
export const goneThere = (rt: Runtime, id: string): Statement =>
  rt.db.orm
    .update(instruments)
    .set({ state: "forgotten", forgottenAt: rt.now(), sealed: null })
    .where(and(eq(instruments.id, id), eq(instruments.state, "kept")));

export const used = (rt: Runtime, id: string): Statement =>
  rt.db.orm.update(instruments).set({ usedAt: rt.now() }).where(eq(instruments.id, id));

/** Changes something that a shopper has kept. False where they have kept no such thing. */
async function change(
  rt: Runtime,
  whose: Shopper,
  id: string,
  to: Partial<Pick<InstrumentRow, "chosenAt" | "called">>,
): Promise<boolean> {
  const [row] = await rt.db.orm
    .select({ id: instruments.id })
    .from(instruments)
    .where(and(isOf(whose), eq(instruments.id, id)));
  if (!row) return false;
  await rt.db.write([
    rt.db.orm
      .update(instruments)
      .set(to)
      .where(and(isOf(whose), eq(instruments.id, id))),
  ]);
  return true;
}

/** Has one shown first from now on. False where the shopper has kept no such thing. */
export const choose = (rt: Runtime, whose: Shopper, id: string): Promise<boolean> =>
  change(rt, whose, id, { chosenAt: rt.now() });

export const LONGEST_CALLED = 40;

/**
 * Has something called as its shopper wants, with what its provider calls it; by nothing, by the latter alone. False where
 * the shopper has kept no such thing.
 */
export function callIt(rt: Runtime, whose: Shopper, id: string, called: string): Promise<boolean> {
  // A whole number of a card is kept nowhere, whoever writes it where.
  const words = called
    .replace(/\d(?:[\s-]?\d){11,}/g, "…")
    .replace(/[\p{C}\s]+/gu, " ")
    .trim()
    .slice(0, LONGEST_CALLED);
  return change(rt, whose, id, { called: words });
}

/** Forgets one here at once, and at the provider as soon as it answers. False where the shopper has kept no such thing. */
export async function forget(rt: Runtime, whose: Shopper, id: string): Promise<boolean> {
  const row = (await rowsOf(rt, whose)).find((one) => one.id === id);
  if (!row) return false;
  await rt.db.write(forgetting(rt, row));
  rt.nudge();
  return true;
}

const forgetting = (rt: Runtime, { id, connectionId, storefrontId }: InstrumentRow): Statement[] => [
  rt.db.orm
    .update(instruments)
    .set({ state: "forgotten", forgottenAt: rt.now() })
    .where(and(eq(instruments.id, id), eq(instruments.state, "kept"))),
  askFor(rt, { kind: "forget-instrument", key: id, lane: laneOf({ connectionId, storefrontId }) }),
];

/**
 * Erases a shopper: nothing of theirs can be used any more, nothing here says whose it was, and what stands with providers
 * goes as soon as they answer. Answers how many there were.
 */
export async function erase(rt: Runtime, { storefrontId, mode, shopper }: Shopper): Promise<number> {
  const rows = await rt.db.orm
    .select()
    .from(instruments)
    .where(and(eq(instruments.shopper, shopper), eq(instruments.mode, mode), reaches(storefrontId)));
  await rt.db.write([
    // What is still told of their payments keeps nothing any more.
    rt.db.orm
      .update(payments)
      .set({ keeping: null })
      .where(
        and(
          sql`keeping is not null`,
          eq(payments.mode, mode),
          or(
            inArray(
              payments.id,
              rows.map((row) => row.paymentId),
            ),
            and(
              eq(payments.storefrontId, storefrontId),
              sql`(select json_extract(c."order", '$.shopper') from checkouts c where c.id = ${payments.checkoutId}) = ${shopper}`,
            ),
          ),
        ),
      ),
    ...rows.flatMap((row) => [
      ...forgetting(rt, row),
      // Told apart by their own ids, so that nothing is left to tell by.
      rt.db.orm
        .update(instruments)
        .set({ ...NOBODYS, digest: `${row.digest} ${row.id}` })
        .where(eq(instruments.id, row.id)),
    ]),
  ]);
  rt.nudge();
  return rows.length;
}

/** Whose row it is that is nobody's any more. No shop's id is empty. */
export const ERASED = "";
const NOBODYS = { shopper: ERASED, name: "", called: "", consent: { words: "", language: "", at: 0 } };

/** What stands at the provider under a row, unsealed; null where nothing does any more. */
export const atProvider = (rt: Runtime, { digest, sealed }: InstrumentRow): string | null =>
  sealed === null ? null : rt.seal.open(sealed, purposeOf(digest));
