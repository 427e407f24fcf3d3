import { type Said, said } from "#core/said";
import { and, desc, eq, inArray } from "drizzle-orm";
import { type OfferChange, offerChanges } from "#core/offers/changes";
import type { Movement } from "#core/cutover/lever";
import type { PairSnapshot, Snapshot } from "#core/cutover/snapshot";
import { offerLabel } from "#core/offers/offer";
import { changeSettings } from "../audit/audit";
import { guardFailed } from "../database/guard";
import type { Statement } from "../database/open";
import type { Cutover, Revision } from "../database/rows";
import { connections, cutovers, offerRevisions, offers } from "../database/schema";
import { clashIn, proposedFrom } from "../offers/clash";
import { newRevision } from "../offers/terms";
import { offersUnchanged } from "../offers/alone";
import type { Runtime } from "../runtime";
import { mustStand, type OfferWithRevisions, type StorefrontNow } from "../storefronts/now";
import { lever, record, snapshotOf } from "./cutover";

/** One offer of a snapshot held against what live runs now. */
export interface SnapshotLine {
  connection: string;
  offer: string;
  /** The revision that ran then, and that runs now; null: none. */
  then: number | null;
  now: number | null;
  /** Whether the offer has been removed since, so that it cannot come back. */
  gone: boolean;
  changes: OfferChange[];
}

export interface SnapshotView {
  id: string;
  at: number;
  person: string;
  kind: Movement;
  lines: SnapshotLine[];
  /** Whether live runs just this now. */
  same: boolean;
}

/** A movement of a lever on this storefront, by its id. */
export async function cutoverBy(rt: Runtime, storefrontId: string, id: string): Promise<Cutover | null> {
  const [found] = await rt.db.orm
    .select()
    .from(cutovers)
    .where(and(eq(cutovers.storefrontId, storefrontId), eq(cutovers.id, id)));
  return found ?? null;
}

const revisionsOf = async (rt: Runtime, { pairs }: Snapshot): Promise<Map<string, Revision>> => {
  const ids = pairs.flatMap((pair) => pair.offers.flatMap((one) => one.liveId ?? []));
  const rows = ids.length
    ? await rt.db.orm.select().from(offerRevisions).where(inArray(offerRevisions.id, ids))
    : [];
  return new Map(rows.map((row) => [row.id, row]));
};

/** What live ran before a movement, compared with what it runs now. */
export async function viewSnapshot(
  rt: Runtime,
  now: StorefrontNow,
  { id, at, person, kind, snapshot }: Cutover,
): Promise<SnapshotView> {
  const revisions = await revisionsOf(rt, snapshot);
  const lines = snapshot.pairs.flatMap((pair) =>
    pair.offers.map((one) => lineFrom(now, revisions, pair, one)),
  );
  const runsNow = (pair: PairSnapshot) =>
    now.connections.find((one) => one.connection.id === pair.connectionId)?.pair.live === pair.live;
  return {
    id,
    at,
    person,
    kind,
    lines,
    same: snapshot.pairs.every(runsNow) && lines.every((line) => line.changes.length === 0 && !line.gone),
  };
}

function lineFrom(
  now: StorefrontNow,
  revisions: ReadonlyMap<string, Revision>,
  { connectionId, live }: PairSnapshot,
  { offerId, liveId }: PairSnapshot["offers"][number],
): SnapshotLine {
  const one = now.offers.find(({ offer }) => offer.id === offerId);
  const ran = live === "live" && liveId ? revisions.get(liveId) : undefined;
  const runs = one?.pair.live === "live" ? one.live : null;
  const document = ran?.document ?? one?.working.document;
  return {
    connection:
      now.connections.find((each) => each.connection.id === connectionId)?.connection.name ?? connectionId,
    offer: document ? offerLabel(document) : offerId,
    then: ran?.number ?? null,
    now: runs?.number ?? null,
    gone: one === undefined,
    changes: offerChanges(runs?.document, ran?.document, now.zones),
  };
}

export type Restored = { ok: true; says: Said } | { ok: false; says: Said };

/**
 * Makes what live ran before a movement the working revisions again: to be rehearsed and cut over like any edit. The
 * profile version that live ran then is taken up with it.
 */
export async function restoreToWorking(
  rt: Runtime,
  person: string,
  storefrontId: string,
  cutover: Cutover,
): Promise<Restored> {
  const now = await mustStand(rt, storefrontId);
  const revisions = await revisionsOf(rt, cutover.snapshot);
  const statements: Statement[] = [];
  for (const pair of cutover.snapshot.pairs) {
    for (const { offerId, liveId } of pair.offers) {
      const one = now.offers.find(({ offer }) => offer.id === offerId);
      const ran = liveId ? revisions.get(liveId) : undefined;
      if (one && ran && offerChanges(one.working.document, ran.document, now.zones).length > 0)
        statements.push(...newRevision(rt, person, offerId, one.working.number + 1, ran.document));
    }
    const at = now.connections.find((one) => one.connection.id === pair.connectionId);
    if (at && pair.versionId && pair.versionId !== at.connection.testVersionId)
      statements.push(
        rt.db.orm
          .update(connections)
          .set({ testVersionId: pair.versionId })
          .where(eq(connections.id, pair.connectionId)),
      );
  }
  if (statements.length === 0) return { ok: false, says: said("snapshots.working-revisions-just-already") };
  return change(rt, now, statements, {
    person,
    action: "snapshot restored to working",
    subject: cutover.connectionId,
    detail: { cutover: cutover.id, storefront: storefrontId },
    done: said("snapshots.working-revision-again-rehearse"),
  });
}

/** Goes back to what live ran before the last cutover: what it took the place of comes back with it. */
export async function stepBack(
  rt: Runtime,
  person: string,
  storefrontId: string,
  connectionId: string,
): Promise<Restored> {
  const [last] = await rt.db.orm
    .select()
    .from(cutovers)
    .where(
      and(
        eq(cutovers.storefrontId, storefrontId),
        eq(cutovers.connectionId, connectionId),
        eq(cutovers.kind, "cut-over"),
      ),
    )
    .orderBy(desc(cutovers.at), desc(cutovers.id))
    .limit(1);
  if (!last) return { ok: false, says: said("snapshots.never-cut-over") };
  const replaced = await rt.db.orm
    .select()
    .from(cutovers)
    .where(
      and(
        eq(cutovers.storefrontId, storefrontId),
        eq(cutovers.kind, "replaced"),
        eq(cutovers.reason, last.id),
      ),
    );
  const pairs = [last, ...replaced].flatMap((one) => one.snapshot.pairs);
  return putBack(rt, person, storefrontId, last, { pairs }, "step-back");
}

/** Has live run at once what it ran before a movement, without rehearsal and gates; for an owner, with a reason. */
export const restoreAtOnce = (
  rt: Runtime,
  person: string,
  storefrontId: string,
  cutover: Cutover,
  reason: string,
): Promise<Restored> => putBack(rt, person, storefrontId, cutover, cutover.snapshot, "restore", reason);

async function putBack(
  rt: Runtime,
  person: string,
  storefrontId: string,
  cutover: Cutover,
  snapshot: Snapshot,
  kind: Extract<Movement, "step-back" | "restore">,
  reason?: string,
): Promise<Restored> {
  const now = await mustStand(rt, storefrontId);
  const revisions = await revisionsOf(rt, snapshot);
  const refused = standsInTheWay(now, snapshot, revisions);
  if (refused) return { ok: false, says: refused };
  const statements = snapshot.pairs.flatMap((pair) => [
    ...pairStatements(rt, now, pair),
    record(rt, {
      id: rt.ids.next("cut"),
      connectionId: pair.connectionId,
      storefrontId,
      kind,
      person,
      snapshot: { pairs: [snapshotOf(now, pair.connectionId)] },
      ...(reason && { reason }),
    }),
  ]);
  const live = snapshot.pairs.some((pair) => pair.live === "live");
  return change(rt, now, statements, {
    person,
    action: kind === "restore" ? "snapshot restored at once" : "stepped back",
    subject: cutover.connectionId,
    detail: { cutover: cutover.id, storefront: storefrontId, ...(reason && { reason }) },
    done: live ? said("snapshots.live-runs-what-ran") : said("snapshots.nothing-ran-before-fallen"),
  });
}

/** The statements that have live run of one pair what it ran at the time of a snapshot. */
function pairStatements(rt: Runtime, now: StorefrontNow, pair: PairSnapshot): Statement[] {
  const at = now.connections.find((one) => one.connection.id === pair.connectionId);
  if (!at) return [];
  const mine = now.offers.filter((one) => one.connection.id === pair.connectionId);
  return [
    ...mine.map(({ offer }) => {
      const then = pair.offers.find((one) => one.offerId === offer.id);
      return rt.db.orm
        .update(offers)
        .set({ liveId: then?.liveId ?? null, offInLive: then?.off ?? false })
        .where(eq(offers.id, offer.id));
    }),
    // What was never live before has been by now.
    lever(rt, at.pair, { live: pair.live === "live" ? "live" : "fallen-back", versionId: pair.versionId }),
    ...(pair.versionId
      ? [
          rt.db.orm
            .update(connections)
            .set({ liveVersionId: pair.versionId })
            .where(eq(connections.id, pair.connectionId)),
        ]
      : []),
  ];
}

/** Why live cannot run a snapshot beside what else it runs now; null when it can. */
function standsInTheWay(
  now: StorefrontNow,
  { pairs }: Snapshot,
  revisions: ReadonlyMap<string, Revision>,
): Said | null {
  const touched = new Set(pairs.map((pair) => pair.connectionId));
  const back = pairs.flatMap((pair) =>
    pair.live !== "live"
      ? []
      : pair.offers.flatMap(({ offerId, liveId, off }): OfferWithRevisions[] => {
          const one = now.offers.find(({ offer }) => offer.id === offerId);
          const live = liveId ? revisions.get(liveId) : undefined;
          return one && live && !off ? [{ ...one, live, pair: { ...one.pair, live: "live" } }] : [];
        }),
  );
  const others = now.offers.filter(
    (one) =>
      !touched.has(one.connection.id) &&
      one.pair.live === "live" &&
      one.live !== null &&
      !one.offer.offInLive,
  );
  for (const one of back) {
    const contest = clashIn(now.storefront, [...others, ...back], "live", proposedFrom(one, "live"));
    if (contest && contest.rivals.length > 0)
      return said("snapshots.fall-back-other-first", { clash: contest.clash.says });
  }
  return null;
}

interface Done {
  person: string;
  action: string;
  subject: string;
  detail: Record<string, unknown>;
  done: Said;
}

async function change(
  rt: Runtime,
  now: StorefrontNow,
  statements: readonly Statement[],
  { done, ...entry }: Done,
): Promise<Restored> {
  try {
    await changeSettings(rt, entry, [...offersUnchanged(rt, now.storefront), ...statements]);
    return { ok: true, says: done };
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, says: said("snapshots.somebody-else-changed-what") };
  }
}
