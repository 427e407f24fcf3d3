import { type Said, said } from "#core/said";
import { and, eq, inArray, isNull } from "drizzle-orm";
import { changeSettings } from "../audit/audit";
import { connections, connectionStorefronts, offers, payments } from "../database/schema";
import { nameOf } from "../offers/names";
import { offersOf } from "../offers/offers";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";
import { type ConnectionWithProfile, servedBy } from "./connections";

/** What stops working when a connection is disconnected. */
export interface Loss {
  /** Offers that shoppers no longer get, each with its storefront. */
  offers: { label: string; storefront: string }[];
  /** Live payments whose money is held or whose outcome is open. */
  openPayments: number;
  live: boolean;
}

export async function lossOf(
  rt: Runtime,
  { connection, liveOn }: ConnectionWithProfile,
  storefronts: readonly string[],
): Promise<Loss> {
  const all = await Promise.all(
    storefronts.map(async (id) => {
      const name = (await storefrontOf(rt, id))?.name ?? id;
      return (await offersOf(rt, id))
        .filter((one) => one.connection.id === connection.id)
        .map((one) => ({ label: nameOf(one), storefront: name }));
    }),
  );
  const open = await rt.db.orm
    .select({ id: payments.id })
    .from(payments)
    .where(
      and(
        eq(payments.connectionId, connection.id),
        eq(payments.mode, "live"),
        inArray(payments.state, ["created", "pending", "authorised"]),
      ),
    )
    .limit(1000);
  return { offers: all.flat(), openPayments: open.length, live: liveOn.length > 0 };
}

export type Disconnected = { ok: true } | { ok: false; says: Said };

/** Disconnects: its offers are gone from every checkout at once; its payments, keys and news stay. Not while live. */
export async function disconnect(
  rt: Runtime,
  person: string,
  { connection, liveOn }: ConnectionWithProfile,
): Promise<Disconnected> {
  if (liveOn.length > 0) {
    const names = await Promise.all(liveOn.map(async (id) => (await storefrontOf(rt, id))?.name ?? id));
    return {
      ok: false,
      says: said("disconnect.live-fall-back-test", { storefronts: names }),
    };
  }
  await changeSettings(rt, { person, action: "connection disconnected", subject: connection.id }, [
    rt.db.orm.update(connections).set({ disconnectedAt: rt.now() }).where(eq(connections.id, connection.id)),
  ]);
  return { ok: true };
}

/** Has a connection serve another storefront, or no longer. It cannot leave one where it is offered, or its last. */
export async function serveStorefront(
  rt: Runtime,
  person: string,
  { connection }: ConnectionWithProfile,
  storefrontId: string,
  serve: boolean,
): Promise<Disconnected> {
  const served = await servedBy(rt, connection.id);
  if (serve === served.includes(storefrontId)) return { ok: true };
  const storefront = await storefrontOf(rt, storefrontId);
  if (!storefront) return { ok: false, says: said("disconnect.no-such-storefront") };
  const row = and(
    eq(connectionStorefronts.connectionId, connection.id),
    eq(connectionStorefronts.storefrontId, storefrontId),
  );
  if (!serve) {
    const [offered] = await rt.db.orm
      .select({ id: offers.id })
      .from(offers)
      .where(
        and(
          eq(offers.connectionId, connection.id),
          eq(offers.storefrontId, storefrontId),
          isNull(offers.removedAt),
        ),
      )
      .limit(1);
    if (offered)
      return { ok: false, says: said("disconnect.offers-shoppers-cannot-taken", { name: storefront.name }) };
    if (served.length === 1) return { ok: false, says: said("disconnect.serves-no-other-storefront") };
  }
  const change = serve
    ? rt.db.orm
        .insert(connectionStorefronts)
        .values({ connectionId: connection.id, storefrontId, since: rt.now() })
    : rt.db.orm.delete(connectionStorefronts).where(row);
  await changeSettings(
    rt,
    {
      person,
      action: serve ? "connection shared" : "connection no longer shared",
      subject: connection.id,
      detail: { storefrontId },
    },
    [change],
  );
  return { ok: true };
}
