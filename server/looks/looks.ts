import { eq } from "drizzle-orm";
import { type Look, type LookEntry, readLook, usualLook } from "#core/looks/look";
import type { Mode } from "#core/mode";
import type { Problem } from "#core/said";
import { changeSettings } from "../audit/audit";
import { looks } from "../database/schema";
import type { Storefront } from "../database/rows";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import { standingVersionOf } from "../storefronts/version";
import { keepPicture, type PictureKept } from "./pictures";

/** A storefront's look as it is being worked on, and as live shoppers see it; null while they see ours. */
export interface Looks {
  working: Look;
  live: Look | null;
}

const shelf: Shelf<Looks> = { name: "looks" };

export async function looksOf(rt: Runtime, storefrontId: string): Promise<Looks> {
  return rt.memory.recall(shelf, storefrontId, await standingVersionOf(rt), async () => {
    const [row] = await rt.db.orm.select().from(looks).where(eq(looks.storefrontId, storefrontId));
    return { working: row?.working ?? usualLook, live: row?.live ?? null };
  });
}

/** The look in a mode: test shows what is being worked on, live what was put live. */
export const lookIn = ({ working, live }: Looks, mode: Mode): Look =>
  mode === "test" ? working : (live ?? usualLook);

export const lookFor = async (rt: Runtime, storefrontId: string, mode: Mode): Promise<Look> =>
  lookIn(await looksOf(rt, storefrontId), mode);

/** Keeps the look that is being worked on. */
const keep = (rt: Runtime, person: string, storefrontId: string, working: Look, action: string) => {
  const change = { working, updatedAt: rt.now() };
  return changeSettings(rt, { person, action, subject: storefrontId, detail: { ...working } }, [
    rt.db.orm
      .insert(looks)
      .values({ storefrontId, ...change })
      .onConflictDoUpdate({ target: looks.storefrontId, set: change }),
  ]);
};

export async function saveLook(
  rt: Runtime,
  person: string,
  { id, languages }: Pick<Storefront, "id" | "languages">,
  entry: LookEntry,
): Promise<{ ok: true } | { ok: false; problems: Problem[] }> {
  const { working } = await looksOf(rt, id);
  const read = readLook(entry, { languages, logo: working.logo });
  if (!read.ok) return read;
  await keep(rt, person, id, read.value, "look saved");
  return { ok: true };
}

/** Takes a picture in as the logo. */
export async function setLogo(
  rt: Runtime,
  person: string,
  storefrontId: string,
  file: File,
): Promise<PictureKept> {
  const kept = await keepPicture(rt, file);
  if (!kept.ok) return kept;
  const { working } = await looksOf(rt, storefrontId);
  await keep(rt, person, storefrontId, { ...working, logo: kept.picture }, "logo set");
  return kept;
}

export async function dropLogo(rt: Runtime, person: string, storefrontId: string): Promise<void> {
  const { working } = await looksOf(rt, storefrontId);
  await keep(rt, person, storefrontId, { ...working, logo: null }, "logo removed");
}

/** Shows live shoppers the look that was worked on. */
export async function putLookLive(rt: Runtime, person: string, storefrontId: string): Promise<void> {
  const { working } = await looksOf(rt, storefrontId);
  await changeSettings(rt, { person, action: "look put live", subject: storefrontId, detail: {} }, [
    rt.db.orm.update(looks).set({ live: working }).where(eq(looks.storefrontId, storefrontId)),
  ]);
}

/** Takes back what was worked on: it is as live is, or as ours. */
export async function takeLookBack(rt: Runtime, person: string, storefrontId: string): Promise<void> {
  const { live } = await looksOf(rt, storefrontId);
  await keep(rt, person, storefrontId, live ?? usualLook, "look taken back");
}
