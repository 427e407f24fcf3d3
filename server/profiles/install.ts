import { eq } from "drizzle-orm";
import { readDocument } from "#core/profiles/document";
import type { DocumentProblem } from "#core/profiles/limits";
import { differences, type PlainWords, plainWords } from "#core/profiles/plain-words";
import { knownOrigins, type Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { agreedFees, connections, profiles, shortlist } from "../database/schema";
import { addressRefused } from "../gateway/addresses";
import type { Runtime } from "../runtime";
import { digestOf } from "../settings";
import { forgetHosts, keepProfile, profileOf } from "./profiles";

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
    because ? [{ line: lineOf(text, origin), at: "modes", says: `${origin} is not called: ${because}` }] : [],
  );
  if (problems.length > 0) return { ok: false, problems };
  const known = await profileOf(rt, profile.id);
  if (known) {
    const users = await usersOf(rt, profile.id);
    const lost = known.fields.filter((field) => !profile.fields.some((one) => one.id === field.id));
    if (users.length > 0 && lost.length > 0)
      return {
        ok: false,
        problems: [
          {
            line: lineOf(text, '"fields"'),
            at: "fields",
            says: `lacks ${lost.map((field) => field.id).join(", ")}, which ${users.join(", ")} has values for; connections could not go on`,
          },
        ],
      };
  }
  return {
    ok: true,
    profile,
    words: plainWords(profile),
    installed: known
      ? {
          version: known.version,
          differs: differences(known, profile),
          usedBy: await usersOf(rt, profile.id),
        }
      : null,
  };
}

const lineOf = (text: string, part: string) => {
  const at = text.indexOf(part);
  return at < 0 ? 1 : text.slice(0, at).split("\n").length;
};

/** Installs a document, or puts it in the place of the version before. Connections go on with it. */
export async function installDocument(rt: Runtime, person: string, text: string): Promise<Looked> {
  const looked = await lookAtDocument(rt, text);
  if (!looked.ok) return looked;
  const { profile, installed } = looked;
  await keepProfile(rt, profile, "file");
  await changeSettings(
    rt,
    {
      person,
      action: installed ? "profile updated" : "profile installed",
      subject: profile.id,
      detail: {
        version: profile.version,
        fingerprint: digestOf(text),
        ...(installed && { before: installed.version }),
      },
    },
    [],
  );
  return looked;
}

async function usersOf(rt: Runtime, profileId: string): Promise<string[]> {
  const rows = await rt.db.orm
    .select({ name: connections.name })
    .from(connections)
    .where(eq(connections.profileId, profileId));
  return rows.map((row) => row.name);
}

export type Removed = { ok: true } | { ok: false; says: string };

/** Removes a profile that was installed from a file. One in use, or shipped, says why it stays. */
export async function removeProfile(rt: Runtime, person: string, profileId: string): Promise<Removed> {
  const [row] = await rt.db.orm.select().from(profiles).where(eq(profiles.id, profileId));
  if (!row) return { ok: false, says: "There is no such profile." };
  if (row.source === "shipped")
    return {
      ok: false,
      says: `${row.document.name} comes with Zahlung and would be back at the next start.`,
    };
  const users = await usersOf(rt, profileId);
  if (users.length > 0)
    return {
      ok: false,
      says: `${row.document.name} is used by ${users.join(", ")}. What was paid through it has to stay readable.`,
    };
  await changeSettings(
    rt,
    { person, action: "profile removed", subject: profileId, detail: { version: row.version } },
    [
      rt.db.orm.delete(shortlist).where(eq(shortlist.profileId, profileId)),
      rt.db.orm.delete(agreedFees).where(eq(agreedFees.subject, profileId)),
      rt.db.orm.delete(profiles).where(eq(profiles.id, profileId)),
    ],
  );
  forgetHosts(rt);
  return { ok: true };
}

/** Every installed profile with where it came from and who uses it. */
export async function installedProfiles(rt: Runtime) {
  const rows = await rt.db.orm.select().from(profiles).orderBy(profiles.id);
  return Promise.all(
    rows.map(async ({ id, version, source, installedAt, document }) => ({
      id,
      version,
      source,
      installedAt,
      name: document.name,
      usedBy: await usersOf(rt, id),
    })),
  );
}
