import { and, eq } from "drizzle-orm";
import { type Look, type LookEntry, readLook, usualLook } from "#core/looks/look";
import type { Mode } from "#core/mode";
import type { Problem } from "#core/said";
import { changeSettings } from "../audit/audit";
import { guard, guardNone, unlessOvertaken } from "../database/guard";
import { looks } from "../database/schema";
import type { LookRevision, Storefront } from "../database/rows";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import { standingVersionOf } from "../storefronts/version";
import { keepPicture, type PictureKept } from "./pictures";
import { noteLook } from "./revisions";

/** A storefront's look as it is being worked on, and as live shoppers see it; null while they see ours. */
export interface Looks {
  working: Look;
  live: Look | null;
  /** Grows with every change of what is worked on; 0 before the first. */
  revision: number;
}

const shelf: Shelf<Looks> = { name: "looks" };

export async function looksOf(rt: Runtime, storefrontId: string): Promise<Looks> {
  return rt.memory.recall(shelf, storefrontId, await standingVersionOf(rt), async () => {
    const [row] = await rt.db.orm.select().from(looks).where(eq(looks.storefrontId, storefrontId));
    return { working: row?.working ?? usualLook, live: row?.live ?? null, revision: row?.updatedAt ?? 0 };
  });
}

/** The look in a mode: test shows what is being worked on, live what was put live. */
export const lookIn = ({ working, live }: Pick<Looks, "working" | "live">, mode: Mode): Look =>
  mode === "test" ? working : (live ?? usualLook);

export const lookFor = async (rt: Runtime, storefrontId: string, mode: Mode): Promise<Look> =>
  lookIn(await looksOf(rt, storefrontId), mode);

/** Keeps the look that is being worked on. Returns its revision; null where it is not the one any more that was `seen`. */
async function keep(
  rt: Runtime,
  person: string,
  storefrontId: string,
  seen: Looks,
  working: Look,
  action: string,
): Promise<number | null> {
  const updatedAt = Math.max(rt.now(), seen.revision + 1);
  const here = eq(looks.storefrontId, storefrontId);
  const asSeen =
    seen.revision === 0
      ? guardNone(looks, here)
      : guard(looks, and(here, eq(looks.updatedAt, seen.revision)));
  const written = await unlessOvertaken(() =>
    changeSettings(rt, { person, action, subject: storefrontId, detail: { ...working } }, [
      asSeen,
      rt.db.orm
        .insert(looks)
        .values({ storefrontId, working, updatedAt })
        .onConflictDoUpdate({ target: looks.storefrontId, set: { working, updatedAt } }),
      noteLook(rt, { storefrontId, look: working, person }),
    ]),
  );
  return written ? updatedAt : null;
}

/** Changes what is worked on, whatever it is by then. */
async function change(
  rt: Runtime,
  person: string,
  storefrontId: string,
  to: (looks: Looks) => Look,
  action: string,
): Promise<void> {
  for (;;) {
    const seen = await looksOf(rt, storefrontId);
    if ((await keep(rt, person, storefrontId, seen, to(seen), action)) !== null) return;
  }
}

export type LookSaved =
  | { ok: true; revision: number }
  | { ok: false; problems: Problem[] }
  /** Somebody saved since: nothing is written, and what they made of it is to be looked at first. */
  | { ok: false; problems: []; overtaken: true };

/** Saves a look as its form gives it; `basedOn` is the revision that the form began with. */
export async function saveLook(
  rt: Runtime,
  person: string,
  { id, languages }: Pick<Storefront, "id" | "languages">,
  entry: LookEntry,
  { basedOn }: { basedOn?: number } = {},
): Promise<LookSaved> {
  const seen = await looksOf(rt, id);
  const read = readLook(entry, { languages, logo: seen.working.logo });
  if (!read.ok) return read;
  const overtaken: LookSaved = { ok: false, problems: [], overtaken: true };
  if (basedOn !== undefined && basedOn !== seen.revision) return overtaken;
  const revision = await keep(rt, person, id, seen, read.value, "look saved");
  return revision === null ? overtaken : { ok: true, revision };
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
  const logo = kept.picture;
  await change(rt, person, storefrontId, ({ working }) => ({ ...working, logo }), "logo set");
  return kept;
}

export async function dropLogo(rt: Runtime, person: string, storefrontId: string): Promise<void> {
  await change(rt, person, storefrontId, ({ working }) => ({ ...working, logo: null }), "logo removed");
}

/** Shows live shoppers the look that was worked on. False: it is another by now than revision `basedOn`, which was looked at. */
export async function putLookLive(
  rt: Runtime,
  person: string,
  storefrontId: string,
  { basedOn }: { basedOn?: number } = {},
): Promise<boolean> {
  const { working, revision } = await looksOf(rt, storefrontId);
  const here = and(eq(looks.storefrontId, storefrontId), eq(looks.updatedAt, basedOn ?? revision));
  return unlessOvertaken(() =>
    changeSettings(rt, { person, action: "look put live", subject: storefrontId, detail: {} }, [
      guard(looks, here),
      rt.db.orm.update(looks).set({ live: working }).where(here),
    ]),
  );
}

/** Works on an earlier look again. False: somebody went on working on it meanwhile. */
export async function restoreLook(
  rt: Runtime,
  person: string,
  { storefrontId, look }: Pick<LookRevision, "storefrontId" | "look">,
  { basedOn }: { basedOn?: number } = {},
): Promise<boolean> {
  const seen = await looksOf(rt, storefrontId);
  if (basedOn !== undefined && basedOn !== seen.revision) return false;
  return (await keep(rt, person, storefrontId, seen, { ...usualLook, ...look }, "look restored")) !== null;
}

/** Takes back what was worked on: it is as live is, or as ours. False: somebody went on working on it meanwhile. */
export async function takeLookBack(
  rt: Runtime,
  person: string,
  storefrontId: string,
  { basedOn }: { basedOn?: number } = {},
): Promise<boolean> {
  const seen = await looksOf(rt, storefrontId);
  if (basedOn !== undefined && basedOn !== seen.revision) return false;
  return (await keep(rt, person, storefrontId, seen, seen.live ?? usualLook, "look taken back")) !== null;
}
