import { isSame } from "#core/said";
import { and, desc, eq, sql } from "drizzle-orm";
import { countTotals } from "#core/costs/orders";
import { comparing, costOf, type MonthCost, type Priced, setCost } from "#core/costs/fees";
import { crossings, type Crossing } from "#core/costs/crossing";
import { assumedVolume } from "#core/costs/read-volume";
import type { Volume } from "#core/costs/volume";
import { minorDigits } from "#core/money/currencies";
import { type Chosen, type Clash, clashesOf } from "#core/offers/clashes";
import { type Fit, fitOf, type Wanted } from "#core/profiles/fit";
import { type FeeSchedule, type Profile, ridesAlong } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { connectionsOf } from "../connections/connections";
import { type KeySides, keySidesOf } from "../connections/key-sides";
import type { Storefront } from "../database/rows";
import { agreedFees, MOVED_MONEY, payments, shortlist, volumes } from "../database/schema";
import { walk } from "../database/walk";
import { allProfiles } from "../profiles/profiles";
import type { Runtime } from "../runtime";
import { isNear } from "../storefronts/storefronts";

/** A provider as the plan shows it. */
export interface PlannedProvider {
  profile: Profile;
  fit: Fit;
  listed: boolean;
  connections: { id: string; name: string }[];
  /** Costs of each method on the shop's volume; null where its currency is not charged. */
  costs: { method: string; cost: MonthCost | null }[];
  /** For a wallet that rides along: whose fees its costs hold as well; null where nobody takes it. */
  ridesOn: string | null;
  /** Methods with their fees, of those on the list or connected. */
  priced: Priced[];
  /** Under what the agreed fees are kept; null while none were agreed. */
  subject: string | null;
  agreed: boolean;
}

export interface Plan {
  wanted: Wanted;
  volume: Volume;
  /** Whether the shop said what it sells, or this is assumed. */
  said: boolean;
  providers: PlannedProvider[];
  /** Of everything on the list or connected: what it costs together, and what cannot stand together. */
  chosen: {
    names: string[];
    cost: ReturnType<typeof setCost>;
    clashes: Clash[];
    crossings: { kind: string; a: string; b: string; found: Crossing[] }[];
  };
}

/** What the storefront sells a month in one of its currencies. */
async function volumeOf(
  rt: Runtime,
  storefront: Storefront,
  currency: string,
): Promise<{ volume: Volume; said: boolean }> {
  const [row] = await rt.db.orm
    .select()
    .from(volumes)
    .where(and(eq(volumes.storefrontId, storefront.id), eq(volumes.currency, currency)));
  return row
    ? { volume: row.document, said: true }
    : { volume: assumedVolume(currency, minorDigits(currency)), said: false };
}

export async function saveVolume(
  rt: Runtime,
  person: string,
  storefrontId: string,
  document: Volume,
): Promise<void> {
  const row = { document, savedAt: rt.now() };
  const { currency } = document;
  await changeSettings(
    rt,
    {
      person,
      action: "volume saved",
      subject: storefrontId,
      detail: { orders: document.orders, currency },
    },
    [
      rt.db.orm
        .insert(volumes)
        .values({ storefrontId, currency, ...row })
        .onConflictDoUpdate({ target: [volumes.storefrontId, volumes.currency], set: row }),
    ],
  );
}

const MOST_SEEN = 10_000;

/** Totals of the storefront's own live payments in a currency, counted; the newest ten thousand. */
export async function seenTotals(
  rt: Runtime,
  storefrontId: string,
  currency: string,
): Promise<[number, number][]> {
  const path = {
    ...{ table: payments, by: [payments.createdAt, payments.id] },
    within: and(eq(payments.storefrontId, storefrontId), eq(payments.mode, "live")),
  };
  const rows = await walk(rt, path, MOST_SEEN, (stretch, left) =>
    rt.db.orm
      .select({ amount: payments.amount })
      .from(payments)
      .where(and(eq(payments.currency, currency), sql.raw(MOVED_MONEY), stretch))
      .orderBy(desc(payments.createdAt), desc(payments.id))
      .limit(left),
  );
  return countTotals(rows.map((row) => row.amount));
}

export async function setListed(
  rt: Runtime,
  person: string,
  storefrontId: string,
  profileId: string,
  listed: boolean,
): Promise<void> {
  const change = listed
    ? rt.db.orm.insert(shortlist).values({ storefrontId, profileId, addedAt: rt.now() }).onConflictDoNothing()
    : rt.db.orm
        .delete(shortlist)
        .where(and(eq(shortlist.storefrontId, storefrontId), eq(shortlist.profileId, profileId)));
  await changeSettings(
    rt,
    {
      person,
      action: listed ? "provider listed" : "provider taken off the list",
      subject: storefrontId,
      detail: { profile: profileId },
    },
    [change],
  );
}

/** The fees that were agreed with a provider: under its connection's id, or the profile's while there is none. */
export async function saveFees(
  rt: Runtime,
  person: string,
  storefrontId: string,
  subject: string,
  document: FeeSchedule | null,
): Promise<void> {
  const where = and(eq(agreedFees.storefrontId, storefrontId), eq(agreedFees.subject, subject));
  const change = document
    ? rt.db.orm
        .insert(agreedFees)
        .values({ storefrontId, subject, document, savedAt: rt.now() })
        .onConflictDoUpdate({
          target: [agreedFees.storefrontId, agreedFees.subject],
          set: { document, savedAt: rt.now() },
        })
    : rt.db.orm.delete(agreedFees).where(where);
  await changeSettings(
    rt,
    {
      person,
      action: document ? "fees agreed" : "fees as in the profile again",
      subject: storefrontId,
      detail: { subject },
    },
    [change],
  );
}

/**
 * Reads everything the plan of a storefront shows. `change` overrides what is wanted, for the filters; costs are
 * reckoned in `currency`, the storefront's first unless another of its currencies is asked for.
 */
export async function planOf(
  rt: Runtime,
  storefront: Storefront,
  change: Partial<Wanted> = {},
  currency?: string | null,
): Promise<Plan> {
  const [first = "EUR"] = storefront.currencies;
  const reckoned = currency && storefront.currencies.includes(currency) ? currency : first;
  const wanted: Wanted = {
    merchantCountry: storefront.country,
    shopperCountry: null,
    currencies: storefront.currencies,
    https: storefront.https || isNear(storefront.domain),
    ...change,
  };
  const [profiles, connections, listed, agreed, { volume, said }] = await Promise.all([
    allProfiles(rt),
    connectionsOf(rt, storefront.id),
    rt.db.orm.select().from(shortlist).where(eq(shortlist.storefrontId, storefront.id)),
    rt.db.orm.select().from(agreedFees).where(eq(agreedFees.storefrontId, storefront.id)),
    volumeOf(rt, storefront, reckoned),
  ]);
  const agreedBy = new Map(agreed.map((row) => [row.subject, row.document]));
  const keys = await keySidesOf(rt, connections);
  const settles = new Map([...keys].map(([id, sides]) => [id, converts(sides, volume.currency)]));
  const termsOf = (profile: Profile) => {
    const mine = connections.filter((one) => one.connection.profileId === profile.id);
    const subject = [...mine.map((one) => one.connection.id), profile.id].find((id) => agreedBy.has(id));
    const schedule = (subject && agreedBy.get(subject)) || profile.fees;
    const converted = mine.some((one) => settles.get(one.connection.id));
    const isListed = listed.some((row) => row.profileId === profile.id);
    return { mine, subject, schedule, converted, isListed, chosen: isListed || mine.length > 0 };
  };
  const carrierFor = (rider: Profile): Priced["carrier"] => {
    const found = profiles.flatMap((profile) => {
      const { schedule, converted, chosen } = termsOf(profile);
      const method = profile.methods.find(
        (one) => one.takes?.includes(rider.id) && one.currencies.includes(volume.currency),
      );
      const fees = schedule.methods.find((one) => one.method === method?.id);
      return fees ? [{ chosen, name: profile.name, fees, converted }] : [];
    });
    // One that is chosen already, or else the first that could be.
    const { name, fees, converted } = found.find((one) => one.chosen) ?? found[0] ?? {};
    return name && fees ? { name, fees, converted: converted ?? false } : undefined;
  };
  const providers = profiles.map((profile): PlannedProvider => {
    const { mine, subject, schedule, converted, isListed, chosen } = termsOf(profile);
    const carrier = ridesAlong(profile) ? carrierFor(profile) : undefined;
    const all = profile.methods.flatMap((method): Priced[] => {
      const fees = schedule.methods.find((one) => one.method === method.id);
      return fees && method.currencies.includes(volume.currency)
        ? [{ profile, method, schedule, fees, converted, ...(carrier && { carrier }) }]
        : [];
    });
    const costs = profile.methods.map(({ id, kind }) => {
      const one = all.find(({ method }) => method.id === id);
      return { method: id, cost: one ? costOf(one, comparing(volume, kind)) : null };
    });
    return {
      profile,
      fit: fitOf(profile, wanted),
      listed: isListed,
      connections: mine.map(({ connection }) => ({ id: connection.id, name: connection.name })),
      costs,
      ridesOn: carrier?.name ?? null,
      priced: chosen ? all : [],
      subject: subject ?? null,
      agreed: subject !== undefined,
    };
  });
  const priced = providers.flatMap((one) => one.priced);
  const chosenProviders = providers.filter((one) => one.listed || one.connections.length > 0);
  return {
    wanted,
    volume,
    said,
    providers,
    chosen: {
      names: chosenProviders.map((one) => one.profile.name),
      cost: setCost(priced, volume),
      clashes: onceEach(
        clashesOf(chosenProviders.flatMap((one) => chosenFrom(one.profile, storefront.currencies))),
      ),
      crossings: pairs(priced).map(([a, b]) => ({
        kind: a.method.kind,
        a: a.profile.name,
        b: b.profile.name,
        found: crossings(a, b, volume),
      })),
    },
  };
}

const chosenFrom = (profile: Profile, currencies: readonly string[]): Chosen[] =>
  profile.methods.map((method) => ({
    id: profile.id,
    name: profile.name,
    profile,
    kind: method.kind,
    carries: method.carries,
    takes: method.takes ?? [],
    currencies: currencies.filter((one) => method.currencies.includes(one)),
  }));

/** Whether an account settles a currency in another; as its last reading said. */
function converts({ live, test }: KeySides, currency: string): boolean {
  const entry = (live.check ?? test.check)?.account?.currencies.find((one) => one.charged === currency);
  return entry !== undefined && entry.settled !== currency;
}

const pairs = (priced: readonly Priced[]): [Priced, Priced][] =>
  priced.flatMap((a, i) =>
    priced
      .slice(i + 1)
      .flatMap((b): [Priced, Priced][] =>
        a.method.kind === b.method.kind && a.profile.id !== b.profile.id ? [[a, b]] : [],
      ),
  );

/** Two methods of one provider may clash in the same words; they are said once. */
const onceEach = (clashes: readonly Clash[]): Clash[] =>
  clashes.filter((one, i) => clashes.findIndex((other) => isSame(other.says, one.says)) === i);
