import { desc, eq, sql } from "drizzle-orm";
import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { fingerprint } from "#core/fingerprint";
import { frameOrigins, knownOrigins, type Profile } from "#core/profiles/profile";
import { readProfile } from "#core/profiles/read-profile";
import { changeSettings } from "../audit/audit";
import { isConflict } from "../database/guard";
import { connections, connectionStorefronts, profiles, profileVersions } from "../database/schema";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import { standingVersionOf } from "../storefronts/version";
import type { ProfileVersion } from "./library";

/** Installs every document of a folder as the newest shipped version. Throws with the file's name when one is wrong. */
export async function installProfiles(rt: Runtime, folder: string): Promise<void> {
  for (const name of (await readdir(folder)).filter((one) => one.endsWith(".json")).sort()) {
    const reading = readProfile(JSON.parse(await readFile(join(folder, name), "utf8")));
    if (!reading.ok) throw new Error(`profile ${name}: ${JSON.stringify(reading.problems)}`);
    await installVersion(rt, "zahlung", reading.profile, "shipped");
  }
}

/**
 * Keeps a document as a new version of its profile, with its entry in the audit trail. What is in use stays as it is:
 * connections and payments go on with the versions they pin. The same document as the newest of its source is not kept
 * again. Returns the version's id.
 */
export async function installVersion(
  rt: Runtime,
  person: string,
  profile: Profile,
  source: "shipped" | "file",
): Promise<string> {
  for (let attempt = 1; ; attempt++) {
    const known = await versionsOf(rt, profile.id);
    const newest = known.find((one) => one.source === source);
    if (newest && fingerprint(newest.profile) === fingerprint(profile)) return newest.id;
    const id = rt.ids.next("prv");
    const number = (known[0]?.number ?? 0) + 1;
    const taken = known.some((one) => one.version === profile.version);
    const row = {
      id,
      profileId: profile.id,
      number,
      version: taken ? `${profile.version} (${number})` : profile.version,
      source,
      document: profile,
      installedAt: rt.now(),
    };
    const detail = { version: row.version, fingerprint: fingerprint(profile).slice(0, 32) };
    try {
      await changeSettings(
        rt,
        {
          person,
          action: known.length ? "profile version installed" : "profile installed",
          subject: profile.id,
          detail,
        },
        [
          rt.db.orm.insert(profiles).values({ id: profile.id, createdAt: rt.now() }).onConflictDoNothing(),
          rt.db.orm.insert(profileVersions).values(row),
        ],
      );
      return id;
    } catch (error) {
      // Another process that starts at the same moment has installed it.
      if (!isConflict(error) || attempt === 8) throw error;
    }
  }
}

/** Every version of a profile, newest first. */
export async function versionsOf(rt: Runtime, profileId: string): Promise<ProfileVersion[]> {
  const rows = await rt.db.orm
    .select({ id: profileVersions.id })
    .from(profileVersions)
    .where(eq(profileVersions.profileId, profileId))
    .orderBy(desc(profileVersions.number));
  return rt.library.all(rows.map((row) => row.id));
}

// Written by hand: in a select from one table the builder would leave out whose column it is.
/** Of several versions the one that new connections get: an administrator's goes before what was shipped. */
const currentIds = sql<string>`(select v.id from profile_versions v where v.profile_id = "profiles"."id"
  order by v.source = 'file' desc, v.number desc limit 1)`;

/** The current version of every installed profile, by profile id. */
export async function currentVersions(rt: Runtime): Promise<ProfileVersion[]> {
  const rows = await rt.db.orm.select({ id: currentIds }).from(profiles).orderBy(profiles.id);
  return rt.library.all(rows.map((row) => row.id));
}

/** The current version of a profile; null when it is not installed. */
export async function currentVersion(rt: Runtime, profileId: string): Promise<ProfileVersion | null> {
  const [row] = await rt.db.orm.select({ id: currentIds }).from(profiles).where(eq(profiles.id, profileId));
  return row ? rt.library.version(row.id) : null;
}

export const allProfiles = async (rt: Runtime): Promise<Profile[]> =>
  (await currentVersions(rt)).map((one) => one.profile);

export const profileOf = async (rt: Runtime, id: string): Promise<Profile | null> =>
  (await currentVersion(rt, id))?.profile ?? null;

/** Origins of profiles that pages may embed, and those that a form's answer may lead to. */
export interface PageHosts {
  frames: string[];
  forms: string[];
}

/** Where pages may lead, by the current and the pinned versions of profiles. */
export async function pageHosts(rt: Runtime): Promise<PageHosts> {
  return rt.memory.recall(hostsShelf, "", await standingVersionOf(rt), () => readHosts(rt));
}

const hostsShelf: Shelf<PageHosts> = { name: "page hosts" };

async function readHosts(rt: Runtime): Promise<PageHosts> {
  const pinned = await rt.db.orm
    .select({ id: connections.testVersionId })
    .from(connections)
    .union(
      rt.db.orm.select({ id: sql<string>`${connectionStorefronts.versionId}` }).from(connectionStorefronts),
    );
  const ids = pinned.flatMap((row) => (row.id ? [row.id] : []));
  const all = [...(await currentVersions(rt)), ...(await rt.library.all(ids))].map((one) => one.profile);
  const once = (list: string[]) => [...new Set(list)];
  return { frames: once(all.flatMap(frameOrigins)), forms: once(all.flatMap(knownOrigins)) };
}
