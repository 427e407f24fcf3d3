import { eq } from "drizzle-orm";
import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { frameOrigins, knownOrigins, type Profile } from "#core/profiles/profile";
import { problemText, readProfile } from "#core/profiles/read-profile";
import { profiles } from "../database/schema";
import type { Runtime } from "../runtime";

/** Installs every document of a folder, replacing older contents, but for what an administrator installed. Throws with the file's name when one is wrong. */
export async function installProfiles(rt: Runtime, folder: string): Promise<void> {
  for (const name of (await readdir(folder)).filter((one) => one.endsWith(".json")).sort()) {
    const reading = readProfile(JSON.parse(await readFile(join(folder, name), "utf8")));
    if (!reading.ok) throw new Error(`profile ${name}: ${reading.problems.map(problemText).join("; ")}`);
    const [installed] = await rt.db.orm.select().from(profiles).where(eq(profiles.id, reading.profile.id));
    // What an administrator put in the place of a shipped profile stays there.
    if (installed?.source !== "file") await keepProfile(rt, reading.profile, "shipped");
  }
}

/** Keeps a profile, in the place of what was installed under its id. Connections go on with it. */
export async function keepProfile(rt: Runtime, profile: Profile, source: "shipped" | "file"): Promise<void> {
  const row = { version: profile.version, source, document: profile, installedAt: rt.now() };
  await rt.db.write([
    rt.db.orm
      .insert(profiles)
      .values({ id: profile.id, ...row })
      .onConflictDoUpdate({ target: profiles.id, set: row }),
  ]);
  forgetHosts(rt);
}

/** After the installed profiles have changed: where pages may lead is read anew. */
export const forgetHosts = (rt: Runtime) => void origins.delete(rt);

export async function allProfiles(rt: Runtime): Promise<Profile[]> {
  const rows = await rt.db.orm.select().from(profiles).orderBy(profiles.id);
  return rows.map((row) => row.document);
}

export async function profileOf(rt: Runtime, id: string): Promise<Profile | null> {
  const [row] = await rt.db.orm.select().from(profiles).where(eq(profiles.id, id));
  return row?.document ?? null;
}

/** Origins of installed profiles that pages may embed, and those that a form's answer may lead to. */
export interface PageHosts {
  frames: string[];
  forms: string[];
}

const origins = new WeakMap<Runtime, { at: number; hosts: PageHosts }>();

/** Where pages may lead, by the installed profiles. Remembered for ten seconds. */
export async function pageHosts(rt: Runtime): Promise<PageHosts> {
  const known = origins.get(rt);
  if (known && rt.now() - known.at < 10_000) return known.hosts;
  const all = await allProfiles(rt);
  const once = (list: string[]) => [...new Set(list)];
  const hosts = { frames: once(all.flatMap(frameOrigins)), forms: once(all.flatMap(knownOrigins)) };
  origins.set(rt, { at: rt.now(), hosts });
  return hosts;
}
