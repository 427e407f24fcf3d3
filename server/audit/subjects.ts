import { eq, inArray } from "drizzle-orm";
import type { SQLiteColumn } from "drizzle-orm/sqlite-core";
import { connections, offerRevisions, offers, payments, people, storefronts } from "../database/schema";
import { nameOf } from "../offers/names";
import type { Runtime } from "../runtime";

/** What an entry of the trail is about, as people call it: its name, and its page within a storefront. */
export interface Subject {
  name: string;
  /** The storefront that it belongs to, and the page there; null where it has none. */
  storefront: { id: string; name: string } | null;
  page: string | null;
}

/** What some subjects of the trail are called today, by id. What is gone, or never had a name, is not among them. */
export async function subjectsOf(rt: Runtime, ids: readonly string[]): Promise<Map<string, Subject>> {
  const { orm } = rt.db;
  const all = [...new Set(ids)];
  const storefrontOf = (column: SQLiteColumn) => eq(storefronts.id, column);
  const where = { id: storefronts.id, name: storefronts.name };
  const [paid, offered, connected, known, sites] = await orm.batch([
    orm
      .select({ id: payments.id, name: payments.orderReference, storefront: where })
      .from(payments)
      .innerJoin(storefronts, storefrontOf(payments.storefrontId))
      .where(inArray(payments.id, all)),
    orm
      .select({ offer: offers, working: offerRevisions, storefront: where })
      .from(offers)
      .innerJoin(offerRevisions, eq(offerRevisions.id, offers.workingId))
      .innerJoin(storefronts, storefrontOf(offers.storefrontId))
      .where(inArray(offers.id, all)),
    orm
      .select({ id: connections.id, name: connections.name })
      .from(connections)
      .where(inArray(connections.id, all)),
    orm.select({ id: people.id, name: people.email }).from(people).where(inArray(people.id, all)),
    orm.select(where).from(storefronts).where(inArray(storefronts.id, all)),
  ]);
  const alone = (one: { id: string; name: string }): [string, Subject] => [
    one.id,
    { name: one.name, storefront: null, page: null },
  ];
  return new Map<string, Subject>([
    ...paid.map(({ id, name, storefront }): [string, Subject] => [
      id,
      { name, storefront, page: `operate/${id}` },
    ]),
    ...offered.map(({ offer, working, storefront }): [string, Subject] => [
      offer.id,
      {
        name: nameOf({ offer, working }),
        storefront,
        page: offer.removedAt === null ? `offer/${offer.id}` : null,
      },
    ]),
    ...[...connected, ...known, ...sites].map(alone),
  ]);
}
