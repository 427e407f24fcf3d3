import { eq, isNull, or } from "drizzle-orm";
import { namesZone } from "#core/offers/rules";
import { readZone, type Zone, type ZoneEntry } from "#core/offers/zones";
import { type Problem, problem, quoted, type Said, said } from "#core/said";
import { changeSettings } from "../audit/audit";
import { isConflict } from "../database/guard";
import { offerRevisions, offers, zones } from "../database/schema";
import type { Runtime } from "../runtime";
import { offerLabel } from "#core/offers/offer";

/** The zones that rules may name, by name. */
export const zonesOf = (rt: Runtime): Promise<Zone[]> =>
  rt.db.orm.select().from(zones).orderBy(zones.name).execute();

export type ZoneKept = { ok: true; id: string } | { ok: false; problems: Problem[] };

/** Keeps a zone: a new one where `id` is null. Rules that name it hold by it from now on, in test and in live. */
export async function keepZone(
  rt: Runtime,
  person: string,
  id: string | null,
  entry: ZoneEntry,
): Promise<ZoneKept> {
  const read = readZone(entry);
  if (!read.ok) return read;
  const mine = id ?? rt.ids.next("zon");
  const row = { id: mine, ...read.value };
  const write = id
    ? rt.db.orm.update(zones).set(read.value).where(eq(zones.id, id))
    : rt.db.orm.insert(zones).values(row);
  try {
    await changeSettings(
      rt,
      { person, action: id ? "zone changed" : "zone added", subject: mine, detail: { name: row.name } },
      [write],
    );
  } catch (error) {
    if (!isConflict(error)) throw error;
    return { ok: false, problems: [problem("name", "rules.zone-name-taken")] };
  }
  return { ok: true, id: mine };
}

/** Takes a zone away that no rule names any more, in no storefront, neither in test nor in live. */
export async function dropZone(
  rt: Runtime,
  person: string,
  id: string,
): Promise<{ ok: true } | { ok: false; says: Said }> {
  const rows = await rt.db.orm
    .select({ offer: offers, revision: offerRevisions })
    .from(offers)
    .innerJoin(
      offerRevisions,
      or(eq(offerRevisions.id, offers.workingId), eq(offerRevisions.id, offers.liveId)),
    )
    .where(isNull(offers.removedAt));
  const using = rows.filter(
    ({ revision }) => revision.document.rules !== undefined && namesZone(revision.document.rules, id),
  );
  if (using.length > 0) {
    const labels = using.map(({ offer, revision }) => offerLabel(revision.document) || offer.methodId);
    return { ok: false, says: said("rules.zone-used", { offers: quoted([...new Set(labels)]) }) };
  }
  const [zone] = await rt.db.orm.select().from(zones).where(eq(zones.id, id));
  if (!zone) return { ok: false, says: said("rules.no-such-zone") };
  await changeSettings(rt, { person, action: "zone removed", subject: id, detail: { name: zone.name } }, [
    rt.db.orm.delete(zones).where(eq(zones.id, id)),
  ]);
  return { ok: true };
}
