import { type Said, said } from "#core/said";
import { servedBy } from "../connections/connections";
import type { Storefront } from "../database/rows";
import type { Runtime } from "../runtime";
import { type AnyOffer, anyOfferIn, mustStand, type StorefrontNow } from "../storefronts/now";
import { allStorefronts } from "../storefronts/storefronts";
import { follow } from "./following";
import { nameOf } from "./names";
import { copyOffline } from "./offline";
import { copyOffer, saveOffer, switchOffer } from "./offers";

// Which way of paying is offered on which storefront to which of its groups: ways down, storefronts and groups across.

/** An offer on one storefront, as the matrix sees it; `groups` are those it is shown to in test. */
interface Place {
  offerId: string | null;
  groups: string[];
  /** Whether it can be offered there at all: its account serves the storefront. */
  may: boolean;
}

export interface MatrixRow {
  /** Tells one way of paying from another: an account and its method, or an offer without a provider. */
  key: string;
  label: string;
  /** None where no provider moves the money. */
  account: string | null;
  places: Record<string, Place>;
}

export interface Matrix {
  storefronts: Pick<Storefront, "id" | "name" | "groups">[];
  rows: MatrixRow[];
}

/** What makes offers of several storefronts one way of paying. */
const keyOf = (one: AnyOffer): string =>
  one.way === "provider"
    ? `${one.connection.id} ${one.offer.methodId}`
    : (one.offer.followsId ?? one.offer.id);

const allGroups = ({ groups }: Pick<Storefront, "groups">) => groups.map(({ id }) => id);

/** Everything that is offered anywhere. An offer that others follow stands for the way of paying. */
async function waysEverywhere(rt: Runtime) {
  const storefronts = await allStorefronts(rt);
  const stands = await Promise.all(storefronts.map(({ id }) => mustStand(rt, id)));
  const ways = new Map<string, { now: StorefrontNow; one: AnyOffer }[]>();
  for (const now of stands)
    for (const one of now.inOrder) {
      const key = keyOf(one);
      ways.set(key, [...(ways.get(key) ?? []), { now, one }]);
    }
  return { storefronts, ways };
}

export async function matrixOf(rt: Runtime): Promise<Matrix> {
  const { storefronts, ways } = await waysEverywhere(rt);
  const serving = new Map<string, string[]>();
  for (const all of ways.values()) {
    const [first] = all;
    if (first?.one.way === "provider" && !serving.has(first.one.connection.id))
      serving.set(first.one.connection.id, await servedBy(rt, first.one.connection.id));
  }
  const rows = [...ways].map(([key, all]): MatrixRow => {
    const { one } = exemplarOf(all);
    const served = one.way === "provider" ? (serving.get(one.connection.id) ?? []) : null;
    const place = (storefront: Storefront): Place => {
      const here = all.find(({ now }) => now.storefront.id === storefront.id)?.one;
      const shown = here && !here.offer.offInTest ? here.working.document.groups : null;
      return {
        offerId: here?.offer.id ?? null,
        groups: shown === null ? [] : shown.length === 0 ? allGroups(storefront) : shown,
        may: here !== undefined || served === null || served.includes(storefront.id),
      };
    };
    return {
      key,
      label: nameOf(one),
      account: one.way === "provider" ? one.connection.name : null,
      places: Object.fromEntries(storefronts.map((each) => [each.id, place(each)])),
    };
  });
  return { storefronts: storefronts.map(({ id, name, groups }) => ({ id, name, groups })), rows };
}

const exemplarOf = (all: readonly { now: StorefrontNow; one: AnyOffer }[]) => {
  const [first] = all;
  if (!first) throw new Error("a way of paying that nobody offers");
  return all.find(({ one }) => one.offer.followsId === null) ?? first;
};

/** The groups of a storefront that a way of paying is to be shown to; none: to nobody. */
export interface Assignment {
  key: string;
  storefrontId: string;
  groups: readonly string[];
}

/** What became of one assignment; `says` where it could not be. */
export interface Assigned {
  label: string;
  storefront: string;
  says: Said | null;
}

/**
 * Carries out assignments one by one, in test: a way of paying that a storefront does not have yet is copied there and
 * follows the offer it came from. What cannot be is said, and the others are done all the same.
 */
export async function assign(
  rt: Runtime,
  person: string,
  assignments: readonly Assignment[],
): Promise<Assigned[]> {
  const results: Assigned[] = [];
  for (const { key, storefrontId, groups } of assignments) {
    const { ways, storefronts } = await waysEverywhere(rt);
    const storefront = storefronts.find(({ id }) => id === storefrontId);
    const all = ways.get(key);
    if (!storefront || !all) continue;
    const wanted = allGroups(storefront).filter((id) => groups.includes(id));
    const { one } = exemplarOf(all);
    const here = all.find(({ now }) => now.storefront.id === storefrontId)?.one ?? null;
    const done = await assignOne(rt, person, { one, here, storefront, wanted });
    results.push({ label: nameOf(one), storefront: storefront.name, says: done });
  }
  return results;
}

async function assignOne(
  rt: Runtime,
  person: string,
  {
    one,
    here,
    storefront,
    wanted,
  }: { one: AnyOffer; here: AnyOffer | null; storefront: Storefront; wanted: readonly string[] },
): Promise<Said | null> {
  const where = (offerId: string) => ({ storefrontId: storefront.id, offerId });
  if (wanted.length === 0) {
    if (!here) return null;
    const off = await switchOffer(rt, person, where(here.offer.id), "test", true);
    return off.ok ? null : off.says;
  }
  let offer = here;
  if (!offer) {
    if (one.way === "provider" && !(await servedBy(rt, one.connection.id)).includes(storefront.id))
      return said("offers.connection-does-not-serve");
    const copied = await (one.way === "provider"
      ? copyOffer(rt, person, one, storefront.id)
      : copyOffline(rt, person, one, storefront.id));
    if (!copied.ok) return copied.says;
    await follow(rt, person, where(copied.id), one.offer.followsId ?? one.offer.id);
    offer = anyOfferIn(await mustStand(rt, storefront.id), copied.id);
  }
  if (!offer) return said("offers.offer-removed");
  const groups = wanted.length === storefront.groups.length ? [] : [...wanted];
  const { document, number } = offer.working;
  if (JSON.stringify(document.groups) !== JSON.stringify(groups)) {
    const saved = await saveOffer(rt, person, storefront, offer, { ...document, groups }, number);
    if (!saved.ok) {
      if ("overtakenBy" in saved) return said("offers.saved-meanwhile", { person: saved.overtakenBy.person });
      const [first] = saved.problems;
      return first ? { code: first.code, values: first.values } : said("offers.not-taken");
    }
  }
  if (!offer.offer.offInTest) return null;
  const on = await switchOffer(rt, person, where(offer.offer.id), "test", false);
  return on.ok ? null : on.says;
}
