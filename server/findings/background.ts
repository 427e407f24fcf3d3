import { and, desc, eq, gt, inArray, sql } from "drizzle-orm";
import type { StandingFindingKind } from "#core/findings/kinds";
import type { SaidValues } from "#core/said";
import { silenceOf } from "../connections/silence";
import {
  connectionStorefronts,
  endpoints,
  exchanges,
  jobs,
  payments,
  subscriptions,
  webhooks,
} from "../database/schema";
import { newsLane } from "../outbox/news";
import type { Runtime } from "../runtime";
import { repeatLane } from "../subscriptions/follow";
import type { Found } from "./record";

/** Milliseconds in which a provider's silences count as trouble, and how many of them do. */
const LATELY = 10 * 60_000;
const SILENCES = 3;
/** News that was not taken so often is told of. */
const TRIED_IN_VAIN = 5;

const number = (expression: string) => sql<number>`${sql.raw(expression)}`.mapWith(Number);

/**
 * What a person should look at of the work behind a storefront: addresses that fell silent, providers in trouble, news that the
 * shop does not take, messages that are not applied, work that was given up. `names` are its accounts', by id. What lasts for
 * days is told once a day.
 */
export async function ofWork(
  rt: Runtime,
  storefrontId: string,
  names: ReadonlyMap<string, string>,
): Promise<Found[]> {
  const day = new Date(rt.now()).toISOString().slice(0, 10);
  const found = (kind: StandingFindingKind, subject: string, values: SaidValues, detail = day): Found => ({
    ...{ mode: "live", kind, subject, detail },
    values: { account: names.get(subject) ?? "none", ...values },
  });
  const [left, givenUp, quiet, calls, [untold], [due], [letters], [uncharged]] = await rt.db.orm.batch([
    messagesLeft(rt, [...names.keys()]),
    workGivenUp(rt),
    unheard(rt, storefrontId),
    callsLately(rt, [...names.keys()]),
    newsNotTaken(rt, storefrontId),
    overdue(rt, storefrontId),
    lettersNotTaken(rt),
    notCharged(rt, storefrontId),
  ]);
  const silent: Found[] = [];
  for (const { endpoint } of quiet) {
    const silence = await silenceOf(rt, endpoint.connectionId, "live", endpoint);
    if (!silence) continue;
    const minutes = Math.round(silence.waited / 60_000);
    const waited = { minutes, hours: minutes < 120 ? 0 : Math.round(minutes / 60) };
    silent.push(found("fallen-silent", endpoint.connectionId, { payments: silence.payments, ...waited }));
  }
  const [newest] = givenUp;
  return [
    ...silent,
    ...calls
      .filter(({ all, silent }) => silent >= SILENCES && silent * 2 >= all)
      .map(({ connectionId, all, silent }) => found("in-trouble", connectionId ?? "", { silent, all })),
    ...(untold && untold.n > 0 ? [found("news-not-taken", storefrontId, { pieces: untold.n })] : []),
    ...(due && due.n > 0 ? [found("overdue", storefrontId, { payments: due.n })] : []),
    ...(letters
      ? [found("letters-not-taken", "mail", { letters: letters.n, says: letters.error ?? "" })]
      : []),
    ...(uncharged
      ? [found("not-charged", storefrontId, { subscriptions: uncharged.n, says: uncharged.error ?? "" })]
      : []),
    ...left.map(({ connectionId, n }) => found("not-applied", connectionId, { messages: n })),
    ...(newest ? [found("work-given-up", "jobs", { pieces: newest.n }, newest.id)] : []),
  ];
}

/** Work that failed so often that somebody should know, and is still tried. */
const triedInVain = sql`${jobs.tries} >= ${TRIED_IN_VAIN} and ${jobs.runAt} is not null`;

/** Letters to shoppers of any storefront that the mail server does not take. */
const lettersNotTaken = ({ db }: Runtime) =>
  db.orm
    .select({ n: number("count(*) over ()"), error: jobs.error })
    .from(jobs)
    .where(and(inArray(jobs.kind, ["send-receipt", "ask-shopper"]), triedInVain))
    .orderBy(desc(jobs.createdAt), desc(jobs.id))
    .limit(1);

/** Subscriptions of a storefront of which something is due that cannot be charged at all, as against being refused. */
const notCharged = ({ db }: Runtime, storefrontId: string) =>
  db.orm
    .select({ n: number("count(*) over ()"), error: jobs.error })
    .from(jobs)
    .innerJoin(subscriptions, eq(subscriptions.id, jobs.key))
    .where(
      and(
        eq(jobs.kind, "repeat"),
        eq(jobs.lane, repeatLane(storefrontId)),
        triedInVain,
        eq(subscriptions.mode, "live"),
        eq(subscriptions.origin, "shop"),
      ),
    )
    .orderBy(desc(jobs.createdAt), desc(jobs.id))
    .limit(1);

const messagesLeft = ({ db }: Runtime, connections: string[]) =>
  db.orm
    .select({ connectionId: webhooks.connectionId, n: number("count(*)") })
    .from(jobs)
    .innerJoin(webhooks, sql`${webhooks.number} = cast(${jobs.key} as integer)`)
    .where(
      and(
        eq(jobs.kind, "apply-webhook"),
        sql`${jobs.tries} > 0`,
        inArray(webhooks.connectionId, connections),
      ),
    )
    .groupBy(webhooks.connectionId);

/** The newest piece of work that was given up, and how many there are. */
const workGivenUp = ({ db }: Runtime) =>
  db.orm
    .select({ id: jobs.id, n: number("count(*) over ()") })
    .from(jobs)
    .where(and(sql`${jobs.tries} > 0`, sql`${jobs.runAt} is null`, sql`${jobs.lease} is null`))
    .orderBy(desc(jobs.createdAt), desc(jobs.id))
    .limit(1);

/** Addresses with a payment that nothing was heard about; how long that is usual is asked of those alone. */
const unheard = (rt: Runtime, storefrontId: string) =>
  rt.db.orm
    .select({ endpoint: endpoints })
    .from(connectionStorefronts)
    .innerJoin(endpoints, eq(endpoints.connectionId, connectionStorefronts.connectionId))
    .where(
      and(
        eq(connectionStorefronts.storefrontId, storefrontId),
        eq(connectionStorefronts.live, "live"),
        eq(endpoints.mode, "live"),
        sql`${endpoints.retiredAt} is null and ${endpoints.provenAt} is not null`,
        sql`exists (select 1 from payments where connection_id = ${endpoints.connectionId} and mode = 'live'
          and origin <> 'rehearsal' and provider_ref is not null and created_at > max(${rt.now() - 86_400_000}, ${endpoints.provenAt})
          and not exists (select 1 from webhooks w where w.payment_id = payments.id))`,
      ),
    );

/** How each provider answered in the last minutes; what broke over there counts as no answer. */
const callsLately = (rt: Runtime, connections: string[]) =>
  rt.db.orm
    .select({
      connectionId: exchanges.connectionId,
      all: number("count(*)"),
      silent: number("sum(ok = 0 and (response is null or response ->> '$.status' >= 500))"),
    })
    .from(exchanges)
    .where(
      and(
        inArray(exchanges.connectionId, connections),
        gt(exchanges.at, rt.now() - LATELY),
        eq(exchanges.mode, "live"),
        eq(exchanges.to, "provider"),
      ),
    )
    .groupBy(exchanges.connectionId);

/** What should have come without a provider by now. */
const overdue = (rt: Runtime, storefrontId: string) =>
  rt.db.orm
    .select({ n: number("count(*)") })
    .from(payments)
    .where(
      and(
        eq(payments.storefrontId, storefrontId),
        eq(payments.mode, "live"),
        sql`${payments.connectionId} is null and ${payments.state} = 'pending' and ${payments.dueAt} < ${rt.now()}`,
      ),
    );

const newsNotTaken = ({ db }: Runtime, storefrontId: string) =>
  db.orm
    .select({ n: number("count(*)") })
    .from(jobs)
    .where(
      and(
        eq(jobs.kind, "deliver-news"),
        eq(jobs.lane, newsLane({ storefrontId, mode: "live" })),
        sql`${jobs.tries} >= ${TRIED_IN_VAIN}`,
      ),
    );
