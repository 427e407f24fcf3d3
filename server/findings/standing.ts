import { isDeepStrictEqual } from "node:util";
import { and, asc, eq, inArray } from "drizzle-orm";
import { standingFindings } from "#core/findings/kinds";
import { changesOf } from "#core/findings/payment-findings";
import { slippedOf } from "#core/track";
import { type Standing, standingsOf } from "../cutover/standing";
import type { Statement } from "../database/open";
import type { FindingRow } from "../database/rows";
import { connectionStorefronts, findings, jobs, payouts, storefronts } from "../database/schema";
import type { UnknownDisputes } from "../disputes/read";
import { accountIn } from "../gateway/accounts";
import { progressOf } from "../home";
import { approvalsOf } from "../payments/today";
import type { Runtime } from "../runtime";
import { mustStand } from "../storefronts/now";
import { ofWork } from "./background";
import { changing, type Found, insertion, recount } from "./record";

/** Looks after what a person should look at that is about no single payment: live accounts, gates, payouts, and the work behind them. */
export async function followStandings(rt: Runtime): Promise<void> {
  const all = await rt.db.orm.select({ id: storefronts.id }).from(storefronts);
  for (const { id } of all) await followStorefront(rt, id);
}

/** The same for one storefront. */
export async function followStorefront(rt: Runtime, storefrontId: string): Promise<void> {
  const known = await rt.db.orm
    .select()
    .from(findings)
    .where(and(eq(findings.storefrontId, storefrontId), inArray(findings.kind, [...standingFindings])));
  const standings = await standingsOf(rt, await mustStand(rt, storefrontId));
  const live = standings.filter(({ pair }) => pair.live === "live");
  const names = new Map(standings.map(({ connection }) => [connection.id, connection.name]));
  const wanted = [
    ...live.flatMap(ofAccount),
    ...(await decliningHere(rt, storefrontId, live)),
    ...(await payoutsHere(rt, storefrontId, names)),
    ...(await disputesUnknown(rt, names)),
    ...(await ofWork(rt, storefrontId, names)),
  ];
  const statements = ["test" as const, "live" as const].flatMap((mode) =>
    following(
      rt,
      { storefrontId, mode },
      wanted.filter((one) => one.mode === mode),
      known.filter((one) => one.mode === mode),
    ),
  );
  if (statements.length > 0) await rt.db.write(statements);
}

/** Gates that nothing can be said of while the keys are refused. */
const aboutKeys: ReadonlySet<string> = new Set(["live-keys", "keys-apart", "account", "currency"]);

/** A live account whose keys are refused, and the gates that no longer hold for what is live. */
function ofAccount(standing: Standing): Found[] {
  const { connection, live, keys: sides } = standing;
  const account = connection.name;
  const goesOn = sides.live.paying !== null && sides.live.paying.keySet.id !== live.keys?.id;
  const [refused] = Object.values(live.check?.wrong ?? {});
  const keys: Found[] =
    refused && live.fresh && live.keys
      ? [
          {
            ...{ mode: "live", kind: "key-refused", subject: connection.id, detail: live.keys.id },
            values: { account, says: refused.says, goesOn: goesOn ? "yes" : "no" },
          },
        ]
      : [];
  const slipped = slippedOf(progressOf(standing))
    .filter(({ id }) => keys.length === 0 || !aboutKeys.has(id))
    .map(({ id, title, says }): Found => ({
      ...{ mode: "live", kind: "gate-slipped", subject: connection.id, detail: id },
      values: { account, gate: title, says },
    }));
  return [...keys, ...slipped];
}

/** Accounts at which fewer payments are approved than on four of five of their own days before. */
async function decliningHere(rt: Runtime, storefrontId: string, live: readonly Standing[]): Promise<Found[]> {
  const found = await approvalsOf(rt, storefrontId);
  const day = new Date(rt.now()).toISOString().slice(0, 10);
  return live.flatMap(({ connection: { id, name } }) => {
    const approvals = found.get(id);
    if (!approvals?.low) return [];
    const { approved, decided, low } = approvals;
    if (approved / decided >= low) return [];
    const values = { account: name, approved, all: decided, low: Math.round(low * 100) };
    return [{ mode: "live" as const, kind: "declining" as const, subject: id, detail: day, values }];
  });
}

/** Payouts that came back, or whose entries do not come to what was paid. */
async function payoutsHere(
  rt: Runtime,
  storefrontId: string,
  names: ReadonlyMap<string, string>,
): Promise<Found[]> {
  const odd = await rt.db.orm
    .select({ payout: payouts })
    .from(payouts)
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, payouts.connectionId))
    .where(and(eq(connectionStorefronts.storefrontId, storefrontId), eq(payouts.odd, true)))
    .orderBy(asc(payouts.paidAt));
  return odd.map(({ payout: { id, mode, connectionId, state, amount, sum, currency } }) => {
    const account = names.get(connectionId) ?? "none";
    const values = { account, paid: { amount, currency }, sum: { amount: sum, currency } };
    const failed = state === "failed";
    const kind = failed ? ("payout-failed" as const) : ("payout-off" as const);
    return { mode, kind, subject: id, detail: failed ? "" : String(sum), values };
  });
}

/** Open disputes of accounts that are about no payment here. */
async function disputesUnknown(rt: Runtime, names: ReadonlyMap<string, string>): Promise<Found[]> {
  const read = await rt.db.orm
    .select({ key: jobs.key, progress: jobs.progress })
    .from(jobs)
    .where(and(eq(jobs.kind, "read-disputes"), inArray(jobs.lane, [...names.keys()])))
    .orderBy(asc(jobs.key));
  return read.flatMap(({ key, progress }): Found[] => {
    const { mode, connectionId } = accountIn(key);
    const { unknown, first } = (progress ?? {}) as Partial<UnknownDisputes>;
    if (!first) return [];
    const { id, amount, currency } = first;
    const account = names.get(connectionId) ?? "none";
    const values = { account, disputes: unknown ?? 0, sum: { amount, currency }, word: id };
    return [{ mode, kind: "dispute-unknown", subject: connectionId, detail: id, values }];
  });
}

/** The statements that make a storefront's findings of these kinds what they must be now. */
function following(
  rt: Runtime,
  of: Pick<FindingRow, "storefrontId" | "mode">,
  wanted: readonly Found[],
  known: readonly FindingRow[],
): Statement[] {
  const subjects = new Set([...wanted, ...known].map(({ subject }) => subject));
  return [...subjects].flatMap((subject) => {
    const changes = changesOf(
      wanted.filter((one) => one.subject === subject),
      known.filter((one) => one.subject === subject),
    );
    return [
      ...changes.opened.map((one) => insertion(rt, { ...of, paymentId: null, orderReference: null, ...one })),
      ...changing(rt, changes),
      ...changes.kept.flatMap(([row, { values }]) =>
        isDeepStrictEqual(row.values, values) ? [] : [recount(rt, row, values)],
      ),
    ];
  });
}
