import { and, desc, eq, lt, notInArray, sql } from "drizzle-orm";
import type { Zone } from "#core/offers/zones";
import type { Statement } from "../database/open";
import { REVISIONS_READ, type RevisionPage, revisionPage } from "../database/revisions";
import type { ZoneRevision } from "../database/rows";
import { zoneRevisions, zones } from "../database/schema";
import type { Runtime } from "../runtime";

/** So many removed zones are listed, those removed last. */
const MOST_REMOVED = 50;

/** The statement that notes what a zone is by now, or was when it was removed. */
export const noteZone = (
  rt: Runtime,
  person: string,
  { id: zoneId, ...is }: Zone,
  { removed = false }: { removed?: boolean } = {},
): Statement =>
  rt.db.orm.insert(zoneRevisions).values({
    ...{ ...is, zoneId, removed, person, createdAt: rt.now() },
    number: sql`(select coalesce(max(number), 0) + 1 from zone_revisions where zone_id = ${zoneId})`,
  });

/** A page of what a zone was, the newest first; `before` is the number it ends before. */
export async function zoneRevisionsOf(
  rt: Runtime,
  id: string,
  before: number | null,
): Promise<RevisionPage<ZoneRevision>> {
  const { zoneId, number } = zoneRevisions;
  return revisionPage(
    await rt.db.orm
      .select()
      .from(zoneRevisions)
      .where(and(eq(zoneId, id), before === null ? undefined : lt(number, before)))
      .orderBy(desc(number))
      .limit(REVISIONS_READ),
  );
}

export async function zoneRevisionOf(rt: Runtime, id: string, number: number): Promise<ZoneRevision | null> {
  const [row] = await rt.db.orm
    .select()
    .from(zoneRevisions)
    .where(and(eq(zoneRevisions.zoneId, id), eq(zoneRevisions.number, number)));
  return row ?? null;
}

/** The zones that were removed and not brought back, as they were then, those removed last first. */
export const removedZones = (rt: Runtime): Promise<ZoneRevision[]> =>
  rt.db.orm
    .select()
    .from(zoneRevisions)
    .where(
      and(
        sql`removed = 1`,
        notInArray(zoneRevisions.zoneId, rt.db.orm.select({ id: zones.id }).from(zones)),
        sql`number = (select max(number) from zone_revisions later where later.zone_id = zone_revisions.zone_id)`,
      ),
    )
    .orderBy(desc(zoneRevisions.createdAt))
    .limit(MOST_REMOVED)
    .execute();
