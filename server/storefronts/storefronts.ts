import { and, eq, isNull, max, type Placeholder } from "drizzle-orm";
import { createHash } from "node:crypto";
import type { Mode } from "#core/mode";
import type { MoneyTerms } from "#core/storefronts/money-terms";
import { changeSettings } from "../audit/audit";
import { guard, unlessOvertaken } from "../database/guard";
import type { Orm } from "../database/open";
import { rowsBy } from "../database/prepared";
import type { Storefront } from "../database/rows";
import { apiKeys, domainFiles, newsAddresses, type StorefrontGroup, storefronts } from "../database/schema";
import { newsGoesOn } from "../outbox/news";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";
import { standingVersionOf } from "./version";

export interface NewStorefront {
  id: string;
  name: string;
  domain: string;
  https: boolean;
  country: string;
  languages: string[];
  currencies: string[];
  groups: StorefrontGroup[];
  /** Schemes of apps that shoppers come back to. */
  apps?: string[];
}

export async function addStorefront(rt: Runtime, person: string, storefront: NewStorefront): Promise<void> {
  await changeSettings(
    rt,
    { person, action: "storefront added", subject: storefront.id, detail: { name: storefront.name } },
    [rt.db.orm.insert(storefronts).values({ ...storefront, stages: [], createdAt: rt.now() })],
  );
}

/**
 * Changes what a storefront is; its id, by which shop and address know it, stays. False: it is not any more what it was
 * when it was read as `before`, and nothing is written.
 */
export async function editStorefront(
  rt: Runtime,
  person: string,
  before: Storefront,
  { id, ...change }: NewStorefront,
): Promise<boolean> {
  const moved = before.domain !== change.domain || before.https !== change.https;
  const asRead = and(
    ...[eq(storefronts.id, id), eq(storefronts.name, before.name), eq(storefronts.domain, before.domain)],
    ...[eq(storefronts.https, before.https), eq(storefronts.country, before.country)],
    ...[eq(storefronts.languages, before.languages), eq(storefronts.currencies, before.currencies)],
    ...[eq(storefronts.groups, before.groups), eq(storefronts.apps, before.apps)],
  );
  return unlessOvertaken(() =>
    changeSettings(
      rt,
      {
        person,
        action: "storefront changed",
        subject: id,
        detail: { ...change, groups: change.groups.map((one) => one.name) },
      },
      [
        guard(storefronts, asRead),
        rt.db.orm.update(storefronts).set(change).where(eq(storefronts.id, id)),
        // What was found on another domain says nothing about this one.
        ...(moved
          ? [
              rt.db.orm
                .update(domainFiles)
                .set({ lookedAt: null, provider: null })
                .where(eq(domainFiles.storefrontId, id)),
            ]
          : []),
      ],
    ),
  );
}

/**
 * An owner says what becomes of late money, and which refunds want two people. False: they are not `before` any more, and
 * nothing is written.
 */
export const setMoneyTerms = (
  rt: Runtime,
  person: string,
  id: string,
  money: MoneyTerms,
  before?: MoneyTerms,
): Promise<boolean> =>
  unlessOvertaken(() =>
    changeSettings(rt, { person, action: "money terms set", subject: id, detail: { ...money } }, [
      ...(before ? [guard(storefronts, and(eq(storefronts.id, id), eq(storefronts.money, before)))] : []),
      rt.db.orm.update(storefronts).set({ money }).where(eq(storefronts.id, id)),
    ]),
  );

const everyStorefront: Shelf<Storefront[]> = { name: "all storefronts" };

/** Kept in memory until a setting changes. `version` is the standing version where it has been read already. */
export async function allStorefronts(rt: Runtime, version?: number): Promise<Storefront[]> {
  return rt.memory.recall(everyStorefront, "", version ?? (await standingVersionOf(rt)), () =>
    rt.db.orm.select().from(storefronts).orderBy(storefronts.createdAt, storefronts.id).execute(),
  );
}

const byId = rowsBy(storefronts, ["id"]);

export async function storefrontOf(rt: Runtime, id: string): Promise<Storefront | null> {
  const [found] = await byId(rt.db).all({ id });
  return found ?? null;
}

/** Whether a domain is this very machine, where nobody asks for https. */
export const isNear = (domain: string) => /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(domain);

const hashOf = (key: string) => createHash("sha256").update(key).digest("hex");

/** Makes a key for the shop API. The key itself is returned once and never kept. */
export async function issueApiKey(
  rt: Runtime,
  person: string,
  storefrontId: string,
  mode: Mode,
): Promise<string> {
  const key = `zahlung-${mode}-${rt.ids.bytes(24).toString("base64url")}`;
  const row = {
    id: rt.ids.next("key"),
    storefrontId,
    mode,
    keyHash: hashOf(key),
    hint: key.slice(-4),
    createdAt: rt.now(),
  };
  await changeSettings(
    rt,
    { person, action: "shop key issued", subject: storefrontId, detail: { mode, hint: row.hint } },
    [rt.db.orm.insert(apiKeys).values(row)],
  );
  return key;
}

export async function revokeApiKey(
  rt: Runtime,
  person: string,
  storefrontId: string,
  id: string,
): Promise<void> {
  await changeSettings(
    rt,
    { person, action: "shop key revoked", subject: storefrontId, detail: { key: id } },
    [
      rt.db.orm
        .update(apiKeys)
        .set({ revokedAt: rt.now() })
        .where(and(eq(apiKeys.id, id), eq(apiKeys.storefrontId, storefrontId), isNull(apiKeys.revokedAt))),
    ],
  );
}

export const apiKeysOf = (rt: Runtime, storefrontId: string) =>
  rt.db.orm.select().from(apiKeys).where(eq(apiKeys.storefrontId, storefrontId)).orderBy(apiKeys.createdAt);

export interface ShopCaller {
  keyId: string;
  storefrontId: string;
  mode: Mode;
  /** When it was last noted that the key was used. */
  usedAt: number;
}

const callers: Shelf<ShopCaller | null> = { name: "callers" };
/** How often the use of a key is noted, milliseconds. */
const NOTED_EVERY = 60_000;

/** The storefront and mode that a key of the shop API speaks for; null for an unknown or revoked one. */
export async function callerOf(
  rt: Runtime,
  key: string,
): Promise<(ShopCaller & { standingVersion: number }) | null> {
  const hash = hashOf(key);
  const standingVersion = await standingVersionOf(rt);
  const caller = await rt.memory.recall(callers, hash, standingVersion, () => readCaller(rt, hash));
  if (!caller) return null;
  const now = rt.now();
  if (caller.usedAt < now - NOTED_EVERY) {
    // Noted before the writing, so that of many calls at once one notes it.
    caller.usedAt = now;
    await rt.db.write([rt.db.orm.update(apiKeys).set({ usedAt: now }).where(eq(apiKeys.id, caller.keyId))]);
  }
  return { ...caller, standingVersion };
}

async function readCaller(rt: Runtime, keyHash: string): Promise<ShopCaller | null> {
  const [found] = await rt.db.orm
    .select()
    .from(apiKeys)
    .where(and(eq(apiKeys.keyHash, keyHash), isNull(apiKeys.revokedAt)));
  if (!found) return null;
  const { id, storefrontId, mode, usedAt } = found;
  return { keyId: id, storefrontId, mode, usedAt: usedAt ?? 0 };
}

/** The statement that tells when the shop last called, for each mode, with a key that still holds. */
export const callsQuery = (orm: Orm, storefrontId: string | Placeholder) =>
  orm
    .select({ mode: apiKeys.mode, at: max(apiKeys.usedAt) })
    .from(apiKeys)
    .where(and(eq(apiKeys.storefrontId, storefrontId), isNull(apiKeys.revokedAt)))
    .groupBy(apiKeys.mode);

export const shopCalls = (rt: Runtime, storefrontId: string) => callsQuery(rt.db.orm, storefrontId);

/** When the shop last called with a key of this mode that still holds; null if never. */
export async function shopLastCalled(rt: Runtime, storefrontId: string, mode: Mode): Promise<number | null> {
  return (await shopCalls(rt, storefrontId)).find((row) => row.mode === mode)?.at ?? null;
}

/** The shop declares its order stages, in its own names. */
export async function declareStages(rt: Runtime, storefrontId: string, stages: string[]): Promise<void> {
  await changeSettings(
    rt,
    { person: "shop", action: "order stages declared", subject: storefrontId, detail: { stages } },
    [rt.db.orm.update(storefronts).set({ stages }).where(eq(storefronts.id, storefrontId))],
  );
}

/** The shop says where it wants its news, and with which secret they are to be signed. */
export async function setNewsAddress(
  rt: Runtime,
  { storefrontId, mode }: Pick<ShopCaller, "storefrontId" | "mode">,
  address: string,
  secret: string,
): Promise<void> {
  const sealed = rt.seal.close(secret, `news:${storefrontId}:${mode}`);
  const row = { storefrontId, mode, address, secret: sealed, updatedAt: rt.now() };
  await changeSettings(
    rt,
    { person: "shop", action: "news address set", subject: storefrontId, detail: { mode, address } },
    [
      rt.db.orm
        .insert(newsAddresses)
        .values(row)
        .onConflictDoUpdate({
          target: [newsAddresses.storefrontId, newsAddresses.mode],
          set: { address, secret: sealed, updatedAt: row.updatedAt },
        }),
      newsGoesOn(rt, { storefrontId, mode }),
    ],
  );
  rt.nudge();
}

export const newsAddressesOf = (rt: Runtime, storefrontId: string) =>
  rt.db.orm
    .select({ mode: newsAddresses.mode, address: newsAddresses.address, updatedAt: newsAddresses.updatedAt })
    .from(newsAddresses)
    .where(eq(newsAddresses.storefrontId, storefrontId));
