import { type Said, said } from "#core/said";
import { and, desc, eq, isNull } from "drizzle-orm";
import type { Movement } from "#core/cutover/lever";
import type { PairSnapshot, Snapshot } from "#core/cutover/snapshot";
import { changeSettings } from "../audit/audit";
import { guardFailed } from "../database/guard";
import type { Statement } from "../database/open";
import type { Cutover } from "../database/rows";
import { connections, connectionStorefronts, cutovers, offers, orders, payments } from "../database/schema";
import { newsOfCutover } from "../outbox/news";
import { offersUnchanged } from "../offers/alone";
import type { Runtime } from "../runtime";
import { mustStand, type OfferWithRevisions, runsInLive, type StorefrontNow } from "../storefronts/now";
import { type Interlocking, interlockingFrom, movable, wouldChange } from "./interlocking";
import { type Standing, standingsOf } from "./standing";

export type Moved = { ok: true; cutover: string } | { ok: false; because: "gates" | "changed"; says: Said };

/** One connection that a cutover moves; all of its offers, or some. */
export interface Leg {
  connectionId: string;
  offerIds?: readonly string[];
  /** The revisions that were looked at; the movement is refused when others would go live. */
  revisionIds: readonly string[];
}

/** What a cutover of several connections at once would do, each decided with the others beside it. */
export function planOf(
  standings: readonly Standing[],
  legs: readonly Pick<Leg, "connectionId" | "offerIds">[],
): { standing: Standing; locked: Interlocking }[] {
  const chosen = legs.flatMap((leg) => {
    const standing = standings.find((one) => one.connection.id === leg.connectionId);
    const scope = { offers: leg.offerIds ?? null };
    return standing ? [{ standing, scope, mine: movable(standing, scope).map((one) => one.offer) }] : [];
  });
  return chosen.map(({ standing, scope }) => ({
    standing,
    locked: interlockingFrom(standing, {
      ...scope,
      beside: chosen.filter((one) => one.standing !== standing).flatMap((one) => one.mine),
    }),
  }));
}

const CHANGED = said("cutover.somebody-else-moved-lever");

/**
 * Takes connections of one storefront from test to live. The gates are decided again here; the offers' live revisions,
 * the levers, what gives way, the records with their snapshots, the putting away of test payments and the news to the
 * shop are one transaction: all of it happens, or none. No other storefront is touched.
 */
export async function cutOver(
  rt: Runtime,
  person: string,
  storefrontId: string,
  legs: readonly Leg[],
): Promise<Moved> {
  const now = await mustStand(rt, storefrontId);
  const plan = planOf(await standingsOf(rt, now), legs);
  if (plan.length === 0 || plan.length < legs.length)
    return { ok: false, because: "changed", says: said("cutover.no-such-connection") };
  const closed = plan.flatMap(({ standing, locked }) =>
    locked.gates
      .filter((gate) => !gate.open)
      .map((gate) =>
        plan.length > 1
          ? said("cutover.gate", { connection: standing.connection.name, gate: gate.title })
          : gate.title,
      ),
  );
  if (closed.length > 0)
    return { ok: false, because: "gates", says: said("cutover.lever-locked", { gates: closed }) };
  const edited = plan.some(
    ({ locked }, i) => [...(legs[i]?.revisionIds ?? [])].sort().join() !== locked.revisionIds.join(),
  );
  if (edited)
    return {
      ok: false,
      because: "changed",
      says: said("cutover.offers-were-edited-since"),
    };
  if (!plan.some(({ standing, locked }) => wouldChange(standing, locked)))
    return { ok: false, because: "changed", says: said("cutover.live-nothing-would-change") };
  const id = rt.ids.next("cut");
  const testOrders = await openTestOrders(rt, storefrontId);
  // However many levers move, it is one movement at one time.
  const moment = rt.now();
  const then = { ...rt, now: () => moment };
  try {
    await changeSettings(
      rt,
      {
        person,
        action: "cut over",
        subject: plan.map(({ standing }) => standing.connection.id).join(" "),
        detail: { cutover: id, storefront: storefrontId },
      },
      [
        ...offersUnchanged(rt, now.storefront),
        ...replacing(then, person, now, id, plan),
        ...plan.flatMap(({ standing, locked }, i) =>
          moving(then, person, standing, locked, i === 0 ? id : rt.ids.next("cut")),
        ),
        rt.db.orm
          .update(payments)
          .set({ archivedAt: rt.now() })
          .where(
            and(
              eq(payments.storefrontId, storefrontId),
              eq(payments.mode, "test"),
              isNull(payments.archivedAt),
            ),
          ),
        rt.db.orm.update(orders).set({ archivedAt: rt.now() }).where(openTests(storefrontId)),
        ...newsOfCutover(rt, storefrontId, id, testOrders),
      ],
    );
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, because: "changed", says: CHANGED };
  }
  rt.nudge();
  return { ok: true, cutover: id };
}

/** The statements that take one connection's offers live and record it. */
function moving(
  rt: Runtime,
  person: string,
  { connection, pair, keys, liveOn, now }: Standing,
  { offers: mine, gates, changes }: Interlocking,
  id: string,
): Statement[] {
  const { testVersionId: versionId } = connection;
  const account = keys.live.paying?.account.account ?? keys.live.waiting?.account.account;
  return [
    ...mine.map(({ offer, working }) =>
      rt.db.orm.update(offers).set({ liveId: working.id, offInLive: false }).where(eq(offers.id, offer.id)),
    ),
    lever(rt, pair, { live: "live", versionId }),
    rt.db.orm
      .update(connections)
      .set({
        liveVersionId: versionId,
        // Where it is live already, the account that is live stays until a person agrees to another.
        ...(liveOn.length === 0 && account && { liveAccount: account }),
      })
      .where(eq(connections.id, connection.id)),
    record(rt, {
      id,
      connectionId: connection.id,
      storefrontId: pair.storefrontId,
      kind: "cut-over",
      person,
      gates,
      changes,
      snapshot: { pairs: [snapshotOf(now, connection.id)] },
    }),
  ];
}

/** The statements that take out of live what gives way, each with a record of its own. */
function replacing(
  rt: Runtime,
  person: string,
  now: StorefrontNow,
  cutoverId: string,
  plan: readonly { locked: Interlocking }[],
): Statement[] {
  const gone = [...new Set(plan.flatMap(({ locked }) => locked.replaces))];
  const ids = [...new Set(gone.map((one) => one.connection.id))];
  return ids.flatMap((connectionId) => {
    const mine = gone.filter((one) => one.connection.id === connectionId);
    const left = now.offers.some(
      (one) => one.connection.id === connectionId && runsInLive(one) && !mine.includes(one),
    );
    const [{ pair }] = mine as [OfferWithRevisions];
    return [
      ...mine.map(({ offer }) =>
        rt.db.orm.update(offers).set({ liveId: null }).where(eq(offers.id, offer.id)),
      ),
      ...(left ? [] : [lever(rt, pair, { live: "fallen-back" })]),
      record(rt, {
        id: rt.ids.next("cut"),
        connectionId,
        storefrontId: pair.storefrontId,
        kind: "replaced",
        person,
        snapshot: { pairs: [snapshotOf(now, connectionId)] },
        reason: cutoverId,
      }),
    ];
  });
}

/** The statement that moves the lever of a pair. */
export const lever = (
  rt: Runtime,
  { connectionId, storefrontId }: { connectionId: string; storefrontId: string },
  to: Partial<Pick<typeof connectionStorefronts.$inferInsert, "live" | "versionId">>,
): Statement =>
  rt.db.orm
    .update(connectionStorefronts)
    .set({ ...to, movedAt: rt.now() })
    .where(
      and(
        eq(connectionStorefronts.connectionId, connectionId),
        eq(connectionStorefronts.storefrontId, storefrontId),
      ),
    );

interface NewRecord {
  id: string;
  connectionId: string;
  storefrontId: string;
  kind: Movement;
  person: string;
  snapshot: Snapshot;
  gates?: Interlocking["gates"];
  changes?: Interlocking["changes"];
  reason?: string;
}

/** The statement that records a movement. */
export const record = (rt: Runtime, { gates = [], changes = [], ...row }: NewRecord): Statement =>
  rt.db.orm.insert(cutovers).values({ ...row, gates, changes, at: rt.now() });

/** What live runs of a connection on its storefront now. */
export function snapshotOf(now: StorefrontNow, connectionId: string): PairSnapshot {
  const at = now.connections.find((one) => one.connection.id === connectionId);
  return {
    connectionId,
    live: at?.pair.live ?? "never",
    versionId: at?.pair.versionId ?? null,
    offers: now.offers
      .filter((one) => one.connection.id === connectionId)
      .map(({ offer }) => ({ offerId: offer.id, liveId: offer.liveId, off: offer.offInLive })),
  };
}

/** Test orders that the shop has not been told to close. */
const openTests = (storefrontId: string) =>
  and(
    eq(orders.storefrontId, storefrontId),
    eq(orders.mode, "test"),
    eq(orders.origin, "shop"),
    isNull(orders.archivedAt),
  );

const openTestOrders = async (rt: Runtime, storefrontId: string): Promise<string[]> => {
  const rows = await rt.db.orm
    .select({ reference: orders.reference })
    .from(orders)
    .where(openTests(storefrontId))
    .limit(5000);
  return rows.map((row) => row.reference);
};

/**
 * The way home: new live payments with a connection stop at once on this storefront, and on no other. Payments under way
 * keep the keys they began with and can still be captured, voided and refunded. False when it is not live (any more).
 */
export async function fallBack(
  rt: Runtime,
  person: string,
  storefrontId: string,
  connectionId: string,
): Promise<boolean> {
  const now = await mustStand(rt, storefrontId);
  const at = now.connections.find((one) => one.connection.id === connectionId);
  if (at?.pair.live !== "live") return false;
  const id = rt.ids.next("cut");
  try {
    await changeSettings(
      rt,
      {
        person,
        action: "fallen back",
        subject: connectionId,
        detail: { cutover: id, storefront: storefrontId },
      },
      [
        ...offersUnchanged(rt, now.storefront),
        lever(rt, at.pair, { live: "fallen-back" }),
        record(rt, {
          id,
          connectionId,
          storefrontId,
          kind: "fall-back",
          person,
          snapshot: { pairs: [snapshotOf(now, connectionId)] },
        }),
      ],
    );
    return true;
  } catch (error) {
    if (guardFailed(error)) return false;
    throw error;
  }
}

const MOST_MOVEMENTS = 200;

/** The movements of a storefront's levers, newest first. */
export const cutoversOf = (rt: Runtime, storefrontId: string): Promise<Cutover[]> =>
  rt.db.orm
    .select()
    .from(cutovers)
    .where(eq(cutovers.storefrontId, storefrontId))
    .orderBy(desc(cutovers.at), desc(cutovers.id))
    .limit(MOST_MOVEMENTS);
