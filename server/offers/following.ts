import { and, eq, inArray, isNull, ne, or, type SQL } from "drizzle-orm";
import { type OfferChange, offerChanges, partOf } from "#core/offers/changes";
import { mergeEdits, putAt } from "#core/merge";
import { type OfferDocument, offerLabel, readOffer } from "#core/offers/offer";
import { type Problem, problem, type Reading, type Said, said } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { Statement } from "../database/open";
import type { Storefront } from "../database/rows";
import { connections, offerRevisions, offers, storefronts } from "../database/schema";
import type { Runtime } from "../runtime";
import { type AnyOffer, anyOfferIn, mustStand, type StorefrontNow } from "../storefronts/now";
import { alone, offersUnchanged } from "./alone";
import { clashIn, clashWords, inUse, proposedFrom } from "./clash";
import { documentFor, newRevision, type PlaceTerms, placeTerms, termsFor } from "./terms";

// An offer can follow that of another storefront: what is set there holds here, but for what is set here otherwise.

/** Reads a document for an offer, against all that its storefront and the offers beside it allow. */
export function fits(now: StorefrontNow, one: AnyOffer, input: unknown): Reading<OfferDocument> {
  const reading = readOffer(input, {
    ...termsFor(now.storefront, one),
    zones: now.zones.map(({ id }) => id),
  });
  if (!reading.ok) return reading;
  const contest =
    one.way === "provider" &&
    !one.offer.offInTest &&
    clashIn(now.storefront, inUse(now, "test"), "test", {
      ...proposedFrom(one, "test"),
      connectionName: one.connection.name,
      document: reading.value,
    });
  return contest ? { ok: false, problems: [{ path: "currencies", ...clashWords(contest.clash) }] } : reading;
}

/** The offers that follow one, each on its storefront as that stands. */
async function followersOf(rt: Runtime, offerId: string): Promise<{ now: StorefrontNow; one: AnyOffer }[]> {
  const rows = await rt.db.orm
    .select({ id: offers.id, storefrontId: offers.storefrontId })
    .from(offers)
    .where(and(eq(offers.followsId, offerId), isNull(offers.removedAt)));
  const found = await Promise.all(
    rows.map(async ({ id, storefrontId }) => {
      const now = await mustStand(rt, storefrontId);
      const one = anyOfferIn(now, id);
      return one ? [{ now, one }] : [];
    }),
  );
  return found.flat();
}

/**
 * What the followed offer says, as far as a follower's storefront can have it. Words in languages that are not spoken
 * there are the follower's own, and so are order stages that the follower's shop does not know.
 */
function asThere(there: OfferDocument, mine: OfferDocument, terms: PlaceTerms): OfferDocument {
  const document = documentFor(there, terms);
  const spoken = <T>(their: Record<string, T> = {}, own: Record<string, T> = {}): Record<string, T> =>
    Object.fromEntries(
      terms.languages.flatMap((language) => {
        const value = their[language] ?? (Object.hasOwn(there.wording, language) ? undefined : own[language]);
        return value === undefined ? [] : [[language, value] as const];
      }),
    );
  const afterwards = spoken(there.afterwards, mine.afterwards);
  const slip = there.offline?.slip;
  return {
    ...document,
    // To whom it is shown and in what currency, and what a statement says, each storefront says for itself.
    ...{ groups: mine.groups, currencies: mine.currencies, statement: mine.statement },
    stages: { ...mine.stages, ...document.stages },
    wording: { ...document.wording, ...spoken(there.wording, mine.wording) },
    ...(Object.keys(afterwards).length > 0 && { afterwards }),
    ...(there.offline && {
      offline: {
        ...there.offline,
        instructions: spoken(there.offline.instructions, mine.offline?.instructions),
        ...(slip && { slip: { ...slip, says: spoken(slip.says, mine.offline?.slip?.says) } }),
      },
    }),
  };
}

export interface CarriedOn {
  statements: Statement[];
  /** Ids of the offers that take the change. */
  taken: string[];
  /** Why others cannot; they stay as they are, and differ. */
  left: Said[];
}

/**
 * What becomes of the offers that follow one, when it is changed to another document: each takes what changed, but for
 * what it has otherwise already. `guarded` are storefronts that the same write is held to already.
 */
export async function carriedOn(
  rt: Runtime,
  person: string,
  { offer, working }: AnyOffer,
  after: OfferDocument,
  guarded = new Set<string>(),
): Promise<CarriedOn> {
  const carried: CarriedOn = { statements: [], taken: [], left: [] };
  for (const { now, one } of await followersOf(rt, offer.id)) {
    const terms = placeTerms(now.storefront);
    const mine = one.working.document;
    const base = asThere(working.document, mine, terms);
    const { merged } = mergeEdits(base, mine, asThere(after, mine, terms));
    if (JSON.stringify(merged) === JSON.stringify(mine)) continue;
    const reading = fits(now, one, merged);
    if (!reading.ok) {
      const [first] = reading.problems;
      const why = first ? { code: first.code, values: first.values } : said("offers.not-taken");
      carried.left.push(said("offers.follower-left", { storefront: now.storefront.name, why }));
      continue;
    }
    if (!guarded.has(now.storefront.id)) carried.statements.push(...offersUnchanged(rt, now.storefront));
    guarded.add(now.storefront.id);
    carried.statements.push(...newRevision(rt, person, one.offer.id, one.working.number + 1, reading.value));
    carried.taken.push(one.offer.id);
  }
  return carried;
}

/** An offer of another storefront, by what it says. */
interface Elsewhere {
  id: string;
  way: AnyOffer["way"];
  followsId: string | null;
  profileId: string | null;
  storefront: Storefront;
  document: OfferDocument;
}

/** Offers that are not removed, with their storefronts and working documents, in one statement. */
const offersWhere = (rt: Runtime, where: SQL | undefined): Promise<Elsewhere[]> =>
  rt.db.orm
    .select({
      ...{ id: offers.id, way: offers.way, followsId: offers.followsId },
      ...{ profileId: connections.profileId, storefront: storefronts, document: offerRevisions.document },
    })
    .from(offers)
    .innerJoin(storefronts, eq(storefronts.id, offers.storefrontId))
    .innerJoin(offerRevisions, eq(offerRevisions.id, offers.workingId))
    .leftJoin(connections, eq(connections.id, offers.connectionId))
    .where(and(isNull(offers.removedAt), where))
    .orderBy(storefronts.createdAt, offers.id)
    .execute();

interface Place {
  id: string;
  way: AnyOffer["way"];
  storefrontId: string;
  storefront: string;
}

const placeOf = ({ id, way, storefront }: Elsewhere): Place => ({
  ...{ id, way, storefrontId: storefront.id, storefront: storefront.name },
});

/** What of an offer is set elsewhere, and what of it holds elsewhere. */
export interface Following {
  /** The offer that it follows, and what is set here otherwise: `from` there, `to` here. */
  leader: (Place & { differs: OfferChange[] }) | null;
  followers: (Place & { own: number })[];
  /** Offers that it could follow. */
  leaders: (Place & { label: string })[];
}

export async function followingOf(rt: Runtime, now: StorefrontNow, one: AnyOffer): Promise<Following> {
  const { id, followsId } = one.offer;
  const mine = one.working.document;
  const related = await offersWhere(
    rt,
    or(eq(offers.followsId, id), followsId === null ? undefined : eq(offers.id, followsId)),
  );
  const led = related.find((other) => other.id === followsId) ?? null;
  const differences = (there: OfferDocument, here: OfferDocument, storefront: Storefront) =>
    offerChanges(asThere(there, here, placeTerms(storefront)), here, now.zones);
  const followers = related.filter((other) => other.followsId === id);
  return {
    leader: led && { ...placeOf(led), differs: differences(led.document, mine, now.storefront) },
    followers: followers.map((each) => ({
      ...placeOf(each),
      own: differences(mine, each.document, each.storefront).length,
    })),
    leaders: led || followers.length > 0 ? [] : await leadersFor(rt, one),
  };
}

/** The offers of other storefronts that one could follow: of the same way of paying, and following none themselves. */
async function leadersFor(rt: Runtime, one: AnyOffer): Promise<Following["leaders"]> {
  const { storefrontId, methodId } = one.offer;
  const others = await offersWhere(
    rt,
    and(
      ...[eq(offers.way, one.way), eq(offers.methodId, methodId), isNull(offers.followsId)],
      ne(offers.storefrontId, storefrontId),
    ),
  );
  return others
    .filter(({ profileId }) => one.way === "offline" || profileId === one.connection.profileId)
    .map((each) => ({ ...placeOf(each), label: offerLabel(each.document) }));
}

export type Followed = { ok: true } | { ok: false; problems: Problem[] };

/** Has an offer follow another from now on, or none. What it says stays as it is: what is otherwise is its own. */
export const follow = (
  rt: Runtime,
  person: string,
  { storefrontId, offerId }: { storefrontId: string; offerId: string },
  leaderId: string | null,
): Promise<Followed> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const one = anyOfferIn(now, offerId);
    if (!one) return { ok: false, problems: [problem("", "offers.offer-removed")] };
    const { leader, leaders } = await followingOf(rt, now, one);
    if (leaderId !== null && leader?.id !== leaderId && !leaders.some(({ id }) => id === leaderId))
      return { ok: false, problems: [problem("", "offers.cannot-follow")] };
    const action = leaderId === null ? "offer follows none" : "offer follows another";
    await changeSettings(rt, { person, action, subject: offerId, detail: { leader: leaderId } }, [
      ...guards,
      rt.db.orm.update(offers).set({ followsId: leaderId }).where(eq(offers.id, offerId)),
    ]);
    return { ok: true };
  });

/** Takes what the followed offer says at these paths, or everywhere, as a revision of its own. */
export const takeFromLeader = (
  rt: Runtime,
  person: string,
  { storefrontId, offerId }: { storefrontId: string; offerId: string },
  paths: readonly string[] | "all",
): Promise<Followed> =>
  alone(rt, storefrontId, async ({ now, guards }) => {
    const one = anyOfferIn(now, offerId);
    const [led] = one?.offer.followsId ? await offersWhere(rt, eq(offers.id, one.offer.followsId)) : [];
    if (!one || !led) return { ok: false, problems: [problem("", "offers.follows-none")] };
    const there = asThere(led.document, one.working.document, placeTerms(now.storefront));
    const wanted = paths === "all" ? Object.keys({ ...one.working.document, ...there }) : paths;
    const document = [...new Set(wanted.map(partOf))].reduce<OfferDocument>(
      (made, path) => putAt(made, path, valueAt(there, path)),
      one.working.document,
    );
    const reading = fits(now, one, document);
    if (!reading.ok) return reading;
    const revision = one.working.number + 1;
    const detail = { revision, leader: led.id };
    await changeSettings(rt, { person, action: "offer edited", subject: offerId, detail }, [
      ...guards,
      ...newRevision(rt, person, offerId, revision, reading.value),
    ]);
    return { ok: true };
  });

const valueAt = (value: unknown, path: string): unknown =>
  path
    .split(".")
    .reduce<unknown>(
      (inner, name) =>
        typeof inner === "object" && inner !== null && Object.hasOwn(inner, name)
          ? (inner as Record<string, unknown>)[name]
          : undefined,
      value,
    );

/** The statements that leave the followers of offers on their own, as these are removed. */
export const leftAlone = (rt: Runtime, ids: readonly string[]): Statement[] => [
  rt.db.orm
    .update(offers)
    .set({ followsId: null })
    .where(inArray(offers.followsId, [...ids])),
];
