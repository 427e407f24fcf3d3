import { and, desc, eq, isNull, sql } from "drizzle-orm";
import { changeSettings } from "../audit/audit";
import type { Connection, ConnectionWithProfile } from "../connections/connections";
import { isConflict } from "../database/open";
import { checkouts, connections, cutovers, offers, payments } from "../database/schema";
import { newsOfCutover } from "../outbox/news";
import type { Runtime } from "../runtime";
import type { Storefront } from "../storefronts/storefronts";
import { interlockingFrom } from "./interlocking";
import { standingOf } from "./standing";

export type Cutover = typeof cutovers.$inferSelect;

export type Moved = { ok: true; cutover: string } | { ok: false; because: "gates" | "changed"; says: string };

/**
 * Takes a connection from test to live. The gates are decided again here; the offers' live revisions, the
 * connection's state, the record with its snapshot, the putting away of test payments and the news to the shop
 * are one transaction: all of it happens, or none.
 */
export async function cutOver(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  storefront: Storefront,
  revisionIds: readonly string[],
): Promise<Moved> {
  const { connection } = where;
  const standing = await standingOf(rt, where, storefront);
  const locked = interlockingFrom(standing);
  if (!locked.open) {
    const closed = locked.gates.filter((gate) => !gate.open).map((gate) => gate.title);
    return { ok: false, because: "gates", says: `The lever is locked: ${closed.join("; ")}.` };
  }
  if ([...revisionIds].sort().join() !== locked.revisionIds.join()) {
    return {
      ok: false,
      because: "changed",
      says: "The offers were edited since this page was opened. Look at the changes again.",
    };
  }
  if (connection.live === "live" && locked.changes.length === 0)
    return { ok: false, because: "changed", says: "It is live, and nothing would change." };
  const mine = standing.offers.map((one) => one.offer);
  const now = rt.now();
  const id = rt.ids.next("cut");
  const testOrders = await openTestOrders(rt, storefront.id);
  const snapshot = {
    live: connection.live,
    offers: mine.map(({ offer }) => ({
      id: offer.id,
      liveId: offer.liveId,
      workingId: offer.workingId,
      off: offer.off,
    })),
    keys: { test: standing.test.keys?.id, live: standing.live.keys?.id },
  };
  try {
    await changeSettings(
      rt,
      { person, action: "cut over", subject: connection.id, detail: { cutover: id } },
      [
        ...mine.map(({ offer, working }) =>
          rt.db.orm
            .update(offers)
            .set({
              liveId: working.id,
              // NOT NULL fails when somebody saved another revision in between, and nothing at all moves.
              workingId: sql`case when working_id = ${working.id} then working_id else null end` as never,
            })
            .where(eq(offers.id, offer.id)),
        ),
        moveLever(rt, connection, "live"),
        rt.db.orm.insert(cutovers).values({
          id,
          connectionId: connection.id,
          storefrontId: storefront.id,
          kind: "cut-over",
          at: now,
          person,
          gates: locked.gates,
          changes: locked.changes,
          snapshot,
        }),
        rt.db.orm
          .update(payments)
          .set({ archivedAt: now })
          .where(
            and(
              eq(payments.storefrontId, storefront.id),
              eq(payments.mode, "test"),
              isNull(payments.archivedAt),
            ),
          ),
        newsOfCutover(rt, storefront.id, id, testOrders),
      ],
    );
  } catch (error) {
    if (!isConflict(error)) throw error;
    return {
      ok: false,
      because: "changed",
      says: "Somebody else moved the lever or edited the offers at the same moment. Look again.",
    };
  }
  rt.nudge();
  return { ok: true, cutover: id };
}

/** Moves a connection's lever from where it was seen to stand; NOT NULL fails when somebody else was quicker. */
const moveLever = (rt: Runtime, connection: Connection, to: Connection["live"]) =>
  rt.db.orm
    .update(connections)
    .set({
      live: to,
      name: sql`case when live = ${connection.live} then name else null end` as never,
    })
    .where(eq(connections.id, connection.id));

const openTestOrders = async (rt: Runtime, storefrontId: string): Promise<string[]> => {
  const rows = await rt.db.orm
    .selectDistinct({ reference: checkouts.reference })
    .from(checkouts)
    .where(
      and(eq(checkouts.storefrontId, storefrontId), eq(checkouts.mode, "test"), eq(checkouts.origin, "shop")),
    )
    .limit(5000);
  return rows.map((row) => row.reference);
};

/**
 * The way home: new live payments stop at once. Payments under way keep the keys they began with and can still
 * be captured, voided and refunded. False when it is not live (any more).
 */
export async function fallBack(
  rt: Runtime,
  person: string,
  { connection }: ConnectionWithProfile,
  storefront: Storefront,
): Promise<boolean> {
  if (connection.live !== "live") return false;
  const id = rt.ids.next("cut");
  const record = {
    id,
    connectionId: connection.id,
    storefrontId: storefront.id,
    kind: "fall-back" as const,
    at: rt.now(),
    person,
    gates: [],
    changes: [],
    snapshot: { live: connection.live },
  };
  try {
    await changeSettings(
      rt,
      { person, action: "fallen back", subject: connection.id, detail: { cutover: id } },
      [moveLever(rt, connection, "fallen-back"), rt.db.orm.insert(cutovers).values(record)],
    );
    return true;
  } catch (error) {
    if (isConflict(error)) return false;
    throw error;
  }
}

export const cutoversOf = (rt: Runtime, connectionId: string): Promise<Cutover[]> =>
  rt.db.orm
    .select()
    .from(cutovers)
    .where(eq(cutovers.connectionId, connectionId))
    .orderBy(desc(cutovers.at))
    .limit(20);
