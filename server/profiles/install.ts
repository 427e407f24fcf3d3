import { type Said, said } from "#core/said";
import { eq } from "drizzle-orm";
import { readDocument } from "#core/profiles/document";
import type { DocumentProblem } from "#core/profiles/limits";
import { differences, type PlainWords, plainWords } from "#core/profiles/plain-words";
import { knownOrigins, type Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { agreedFees, connections, profiles, profileVersions, shortlist } from "../database/schema";
import { addressRefused } from "../wire/addresses";
import type { Runtime } from "../runtime";
import { currentVersion, currentVersions, installVersion, versionsOf } from "./profiles";

export type Looked =
  | { ok: false; problems: DocumentProblem[] }
  | {
      ok: true;
      profile: Profile;
      words: PlainWords;
      /** Of the version that is installed; null when none is. */
      installed: { version: string; differs: ReturnType<typeof differences>; usedBy: string[] } | null;
    };

/** Reads a document that somebody wants to install, and says what it would mean. Nothing is kept. */
export async function lookAtDocument(rt: Runtime, text: string): Promise<Looked> {
  const reading = readDocument(text);
  if (!reading.ok) return reading;
  const { profile } = reading;
  const refused = await Promise.all(
    knownOrigins(profile).map(async (origin) => ({ origin, because: await addressRefused(rt, origin) })),
  );
  const problems = refused.flatMap(({ origin, because }) =>
    because
      ? [{ line: lineOf(text, origin), at: "modes", says: said("install.not-called", { origin, because }) }]
      : [],
  );
  if (problems.length > 0) return { ok: false, problems };
  const known = await currentVersion(rt, profile.id);
  return {
    ok: true,
    profile,
    words: plainWords(profile),
    installed: known
      ? {
          version: known.version,
          differs: differences(known.profile, profile),
          usedBy: await usersOf(rt, profile.id),
        }
      : null,
  };
}

const lineOf = (text: string, part: string) => {
  const at = text.indexOf(part);
  return at < 0 ? 1 : text.slice(0, at).split("\n").length;
};

/** Installs a document as a new version. What is in use goes on with the version it pins. */
export async function installDocument(rt: Runtime, person: string, text: string): Promise<Looked> {
  const looked = await lookAtDocument(rt, text);
  if (looked.ok) await installVersion(rt, person, looked.profile, "file");
  return looked;
}

async function usersOf(rt: Runtime, profileId: string): Promise<string[]> {
  const rows = await rt.db.orm
    .select({ name: connections.name })
    .from(connections)
    .where(eq(connections.profileId, profileId));
  return rows.map((row) => row.name);
}

export type Removed = { ok: true } | { ok: false; says: Said };

/** Removes a profile that was installed from a file. One in use, or shipped, says why it stays. */
export async function removeProfile(rt: Runtime, person: string, profileId: string): Promise<Removed> {
  const versions = await versionsOf(rt, profileId);
  const [newest] = versions;
  if (!newest) return { ok: false, says: said("install.no-such-profile") };
  const { name } = newest.profile;
  if (versions.some((one) => one.source === "shipped"))
    return { ok: false, says: said("install.comes-zahlung-would-back", { name }) };
  const users = await usersOf(rt, profileId);
  if (users.length > 0)
    return {
      ok: false,
      says: said("install.used-what-paid-through", { name, users }),
    };
  await changeSettings(
    rt,
    { person, action: "profile removed", subject: profileId, detail: { version: newest.version } },
    [
      rt.db.orm.delete(shortlist).where(eq(shortlist.profileId, profileId)),
      rt.db.orm.delete(agreedFees).where(eq(agreedFees.subject, profileId)),
      rt.db.orm.delete(profileVersions).where(eq(profileVersions.profileId, profileId)),
      rt.db.orm.delete(profiles).where(eq(profiles.id, profileId)),
    ],
  );
  return { ok: true };
}

/** Every installed profile with its current version, where that came from and who uses which. */
export async function installedProfiles(rt: Runtime) {
  const [current, users] = await Promise.all([
    currentVersions(rt),
    rt.db.orm
      .select({
        name: connections.name,
        profileId: connections.profileId,
        versionId: connections.testVersionId,
      })
      .from(connections),
  ]);
  const pinned = await rt.library.all(users.map((one) => one.versionId));
  return current.map(({ profileId, version, source, installedAt, profile }) => ({
    id: profileId,
    version,
    source,
    installedAt,
    name: profile.name,
    usedBy: users.flatMap((one, i) =>
      one.profileId === profileId
        ? [pinned[i]?.version === version ? one.name : `${one.name} (${pinned[i]?.version ?? ""})`]
        : [],
    ),
  }));
}
