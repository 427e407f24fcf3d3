import { and, desc, eq, lt, sql } from "drizzle-orm";
import type { Look } from "#core/looks/look";
import { REVISIONS_READ, type RevisionPage, revisionPage } from "../database/revisions";
import type { LookRevision } from "../database/rows";
import { lookRevisions, looks } from "../database/schema";
import type { Statement } from "../database/open";
import type { Runtime } from "../runtime";

/** The statement that notes a look as the newest that a storefront's people worked on. */
export const noteLook = (
  rt: Runtime,
  { storefrontId, look, person }: { storefrontId: string; look: Look; person: string },
): Statement =>
  rt.db.orm.insert(lookRevisions).values({
    ...{ storefrontId, look, person, createdAt: rt.now() },
    number: sql`(select coalesce(max(number), 0) + 1 from look_revisions where storefront_id = ${storefrontId})`,
  });

/** A page of the looks that a storefront's people worked on, the newest first; `before` is the number it ends before. */
export async function lookRevisionsOf(
  rt: Runtime,
  storefrontId: string,
  before: number | null,
): Promise<RevisionPage<LookRevision>> {
  const { storefrontId: here, number } = lookRevisions;
  return revisionPage(
    await rt.db.orm
      .select()
      .from(lookRevisions)
      .where(and(eq(here, storefrontId), before === null ? undefined : lt(number, before)))
      .orderBy(desc(number))
      .limit(REVISIONS_READ),
  );
}

export async function lookRevisionOf(
  rt: Runtime,
  storefrontId: string,
  number: number,
): Promise<LookRevision | null> {
  const [row] = await rt.db.orm
    .select()
    .from(lookRevisions)
    .where(and(eq(lookRevisions.storefrontId, storefrontId), eq(lookRevisions.number, number)));
  return row ?? null;
}

/** The numbers of the look that is worked on and of the one that live shows; null where there is none of its own. */
export async function lookNumbers(
  rt: Runtime,
  storefrontId: string,
): Promise<{ working: number | null; live: number | null }> {
  const newest = sql<number | null>`max(${lookRevisions.number})`;
  const shown = eq(
    lookRevisions.look,
    sql`(select ${looks.live} from ${looks} where ${looks.storefrontId} = ${storefrontId})`,
  );
  const here = eq(lookRevisions.storefrontId, storefrontId);
  const [[working], [live]] = await Promise.all([
    rt.db.orm.select({ number: newest }).from(lookRevisions).where(here),
    rt.db.orm.select({ number: newest }).from(lookRevisions).where(and(here, shown)),
  ]);
  return { working: working?.number ?? null, live: live?.number ?? null };
}
