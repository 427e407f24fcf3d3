import { createHash } from "node:crypto";
import { and, desc, eq, or, sql } from "drizzle-orm";
import { isOver, type KeptInstrument } from "#core/instruments";
import type { Mode } from "#core/mode";
import type { KeptReading, PaymentReading } from "#core/profiles/answers";
import type { Statement } from "../database/open";
import type { InstrumentRow, Payment } from "../database/rows";
import { instruments } from "../database/schema";
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
const purposeOf = (id: string) => `instrument ${id}`;

/** The statement that keeps what a payment was paid with, where its shopper wanted that; none otherwise. The same is kept once. */
export function keepingOf(
  rt: Runtime,
  payment: Payment,
  shopper: string | undefined,
  kept: PaymentReading["kept"],
): Statement[] {
  const { keeping } = payment;
  if (!kept || !keeping || shopper === undefined || !isThroughProvider(payment) || payment.offerId === null)
    return [];
  const id = rt.ids.next("ins");
  return [
    rt.db.orm
      .insert(instruments)
      .values({
        ...{ id, storefrontId: payment.storefrontId, connectionId: payment.connectionId },
        ...{
          mode: payment.mode,
          offerId: payment.offerId,
          methodId: payment.methodId,
          paymentId: payment.id,
        },
        ...{ shopper, scope: keeping.scope, consent: keeping.consent },
        sealed: rt.seal.close(kept.id, purposeOf(id)),
        digest: digestOf(kept.id),
        name: (kept.name ?? payment.instrument ?? payment.methodId).slice(0, 80),
        ...{ until: kept.until ?? null, state: "kept", createdAt: rt.now() },
      })
      .onConflictDoNothing(),
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
    or(eq(instruments.storefrontId, storefrontId), eq(instruments.scope, "shop")),
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

/** What a shopper has kept that can still be used, the one to be shown first before the others. */
export async function keptOf(
  rt: Runtime,
  whose: Shopper,
): Promise<(KeptInstrument & Pick<InstrumentRow, "connectionId" | "methodId" | "createdAt">)[]> {
  const rows = (await rowsOf(rt, whose)).filter((one) => !isOver(one, rt.now()));
  return rows.map(({ id, offerId, name, until, connectionId, methodId, createdAt }, i) => ({
    ...{ id, offerId, name, until, connectionId, methodId, createdAt },
    usual: i === 0,
  }));
}

/** The provider's id of something that is kept, for the payment that uses it; null: it cannot be used here. */
export async function idAtProvider(
  rt: Runtime,
  whose: Shopper,
  road: { connectionId: string; methodId: string },
  id: string,
): Promise<string | null> {
  const row = (await rowsOf(rt, whose)).find((one) => one.id === id);
  if (!row?.sealed || isOver(row, rt.now())) return null;
  const fits = row.connectionId === road.connectionId && row.methodId === road.methodId;
  return fits ? rt.seal.open(row.sealed, purposeOf(row.id)) : null;
}

export const used = (rt: Runtime, id: string): Statement =>
  rt.db.orm.update(instruments).set({ usedAt: rt.now() }).where(eq(instruments.id, id));

/** Has one shown first from now on. False where the shopper has kept no such thing. */
export async function choose(rt: Runtime, whose: Shopper, id: string): Promise<boolean> {
  const [row] = await rt.db.orm
    .select({ id: instruments.id })
    .from(instruments)
    .where(and(isOf(whose), eq(instruments.id, id)));
  if (!row) return false;
  await rt.db.write([
    rt.db.orm.update(instruments).set({ chosenAt: rt.now() }).where(eq(instruments.id, id)),
  ]);
  return true;
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
    .where(
      and(
        eq(instruments.shopper, shopper),
        eq(instruments.mode, mode),
        or(eq(instruments.storefrontId, storefrontId), eq(instruments.scope, "shop")),
      ),
    );
  if (rows.length === 0) return 0;
  await rt.db.write(
    rows.flatMap((row) => [
      ...forgetting(rt, row),
      // Told apart by their own ids, so that nothing is left to tell by.
      rt.db.orm
        .update(instruments)
        .set({ shopper: ERASED, name: "", digest: row.id, consent: { words: "", language: "", at: 0 } })
        .where(eq(instruments.id, row.id)),
    ]),
  );
  rt.nudge();
  return rows.length;
}

/** Whose row it is that is nobody's any more. No shop's id is empty. */
export const ERASED = "";

/** What stands at the provider under a row, unsealed; null where nothing does any more. */
export const atProvider = (rt: Runtime, { id, sealed }: InstrumentRow): string | null =>
  sealed === null ? null : rt.seal.open(sealed, purposeOf(id));
