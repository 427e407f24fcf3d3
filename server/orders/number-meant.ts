import { and, desc, eq, gte, inArray, lt, sql } from "drizzle-orm";
import { modes } from "#core/mode";
import type { orders, subscriptions } from "../database/schema";
import { endOf } from "../database/walk";
import type { Runtime } from "../runtime";

/** What has numbers that a shop gives. */
type Numbered = typeof orders | typeof subscriptions;

/**
 * What somebody means who types the beginning of a number: just that, if one begins so; or the same in capitals or in small
 * letters; or, of digits alone, those after what the storefront's newest number begins with ("1042" for "LW-1042").
 */
export async function numberMeant(
  { db }: Pick<Runtime, "db">,
  table: Numbered,
  storefrontId: string,
  typed: string,
): Promise<string> {
  const here = and(eq(table.storefrontId, storefrontId), eq(table.origin, "shop"));
  const after = /^\d+$/.test(typed) ? await newestBegins({ db }, table, storefrontId) : "";
  const capitals = typed.toUpperCase();
  const maybe = [
    ...new Set([typed, capitals, ...(typed === capitals ? [] : [typed.toLowerCase()]), after + typed]),
  ];
  // Mostly a number is copied, or has been typed as it is written.
  if (maybe.length === 1) return typed;
  const begins = maybe.map((one) => {
    const found = and(
      here,
      inArray(table.mode, [...modes]),
      gte(table.reference, one),
      lt(table.reference, endOf(one)),
    );
    return sql<number>`exists (select 1 from ${table} where ${found})`;
  });
  const [answer = []] = await db.orm.values<number[]>(sql`select ${sql.join(begins, sql`, `)}`);
  return maybe.find((_, i) => answer[i]) ?? typed;
}

/** What stands before the digits of a storefront's newest number, in live if there is any. */
async function newestBegins({ db }: Pick<Runtime, "db">, table: Numbered, storefrontId: string) {
  const newest = await Promise.all(
    ["live" as const, "test" as const].map((mode) =>
      db.orm
        .select({ reference: table.reference })
        .from(table)
        // A plus keeps SQLite from sorting them all: the newest stands first in an index without it.
        .where(
          and(eq(table.storefrontId, storefrontId), eq(table.mode, mode), sql`+${table.origin} = 'shop'`),
        )
        .orderBy(desc(table.createdAt), desc(table.id))
        .limit(1),
    ),
  );
  return /^\D*/.exec(newest.flat()[0]?.reference ?? "")?.[0] ?? "";
}
