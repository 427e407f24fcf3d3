import { and, eq } from "drizzle-orm";
import { readZone, type Zone, type ZoneEntry } from "#core/offers/zones";
import { type Problem, problem, quoted, type Said, said } from "#core/said";
import { changeSettings } from "../audit/audit";
import { guard, guardFailed, isConflict } from "../database/guard";
import { zones } from "../database/schema";
import type { ZoneRevision } from "../database/rows";
import type { Runtime } from "../runtime";
import { type ZoneEffect, zoneEffect, zoneUses } from "./zone-uses";
import { noteZone } from "./zone-revisions";

/** The zones that rules may name, by name. */
export const zonesOf = (rt: Runtime): Promise<Zone[]> =>
  rt.db.orm.select().from(zones).orderBy(zones.name).execute();

type Extent = Omit<Zone, "id">;

export type ZoneKept =
  | { ok: true; id: string }
  | { ok: false; problems: Problem[] }
  /** It would change at once whom live offers are shown to: somebody has to say that this is meant. */
  | { ok: false; problems: []; asks: ZoneEffect; extent: Extent };

/** Keeps a new zone, or under its `id` of before one that was removed. */
export async function addZone(
  rt: Runtime,
  person: string,
  entry: ZoneEntry,
  id = rt.ids.next("zon"),
): Promise<ZoneKept> {
  const read = readZone(entry);
  if (!read.ok) return read;
  const { name } = read.value;
  const detail = { name, is: inWords(read.value) };
  return written(id, () =>
    changeSettings(rt, { person, action: "zone added", subject: id, detail }, [
      rt.db.orm.insert(zones).values({ id, ...read.value }),
      noteZone(rt, person, { id, ...read.value }),
    ]),
  );
}

/**
 * Changes a zone. Rules that name it hold by it from now on, in test and in live; where a live offer does, `agreed` has to be
 * what it is changed to. `began` is the zone as whoever changes it saw it: it is refused where it has changed since.
 */
export async function changeZone(
  rt: Runtime,
  person: string,
  began: Zone,
  entry: ZoneEntry,
  agreed: Extent | null,
): Promise<ZoneKept> {
  const read = readZone(entry);
  if (!read.ok) return read;
  const { id } = began;
  const next = { id, ...read.value };
  const saysTheSame = inWords(began) === inWords(next);
  if (!saysTheSame && (agreed === null || inWords(agreed) !== inWords(next))) {
    const asks = await zoneEffect(rt, next);
    if (asks.offers.length > 0) return { ok: false, problems: [], asks, extent: read.value };
  }
  const detail = { name: next.name, was: inWords(began), is: inWords(next) };
  return written(id, () =>
    changeSettings(rt, { person, action: "zone changed", subject: id, detail }, [
      guard(
        zones,
        and(
          ...[eq(zones.id, id), eq(zones.name, began.name), eq(zones.countries, began.countries)],
          ...[eq(zones.regions, began.regions), eq(zones.postcodes, began.postcodes)],
        ),
      ),
      rt.db.orm.update(zones).set(read.value).where(eq(zones.id, id)),
      noteZone(rt, person, next),
    ]),
  );
}

/**
 * Makes a zone again what an earlier revision of it says, or brings it back where it was removed; like any change of it, what
 * live offers go by has to be `agreed`.
 */
export async function restoreZone(
  rt: Runtime,
  person: string,
  { zoneId: id, ...was }: Pick<ZoneRevision, "zoneId" | "name" | "countries" | "regions" | "postcodes">,
  agreed: Extent | null,
): Promise<ZoneKept> {
  const entry: ZoneEntry = {
    name: was.name,
    countries: was.countries.join(", "),
    regions: was.regions.join(", "),
    postcodes: was.postcodes.join(", "),
  };
  const [standing] = await rt.db.orm.select().from(zones).where(eq(zones.id, id));
  return standing ? changeZone(rt, person, standing, entry, agreed) : addZone(rt, person, entry, id);
}

/** What lies in a zone, in one line, as it can be typed again. */
const inWords = ({ countries, regions, postcodes }: Extent): string =>
  [...countries, ...regions, ...postcodes].join(", ");

async function written(id: string, write: () => Promise<unknown>): Promise<ZoneKept> {
  try {
    await write();
  } catch (error) {
    if (guardFailed(error)) return { ok: false, problems: [problem("zone", "rules.zone-overtaken")] };
    if (!isConflict(error)) throw error;
    return { ok: false, problems: [problem("name", "rules.zone-name-taken")] };
  }
  return { ok: true, id };
}

/** Takes a zone away that no rule names any more, in no storefront, neither in test nor in live. */
export async function dropZone(
  rt: Runtime,
  person: string,
  id: string,
): Promise<{ ok: true } | { ok: false; says: Said }> {
  const using = (await zoneUses(rt, [{ id }])).get(id) ?? [];
  if (using.length > 0) {
    const labels = [...new Set(using.map(({ label }) => label))];
    return { ok: false, says: said("rules.zone-used", { offers: quoted(labels) }) };
  }
  const [zone] = await rt.db.orm.select().from(zones).where(eq(zones.id, id));
  if (!zone) return { ok: false, says: said("rules.no-such-zone") };
  await changeSettings(rt, { person, action: "zone removed", subject: id, detail: { name: zone.name } }, [
    rt.db.orm.delete(zones).where(eq(zones.id, id)),
    noteZone(rt, person, zone, { removed: true }),
  ]);
  return { ok: true };
}
