import { type Said, said } from "#core/said";
import { and, desc, eq, gt, inArray, sql } from "drizzle-orm";
import { silenceOf } from "../connections/silence";
import {
  connectionStorefronts,
  endpoints,
  exchanges,
  findings as rows,
  jobs,
  webhooks,
} from "../database/schema";
import { newsLane } from "../outbox/news";
import type { Runtime } from "../runtime";
import { isOpenNow } from "./findings";
import { findingPath, findingSays, findingTitle } from "./words";
import type { StorefrontNow } from "../storefronts/now";

/** Something that a person should look at. Paths are below the storefront's own. */
export interface Finding {
  id: string;
  title: Said;
  says: Said;
  /** How much it matters: `wrong` costs money or orders, `waits` does not yet. */
  meaning: "wrong" | "waits";
  to: string;
}

const MOST = 50;
/** Milliseconds in which a provider's silences count as trouble, and how many of them do. */
const LATELY = 10 * 60_000;
const SILENCES = 3;
/** News that was not taken so often is told of. */
const TRIED_IN_VAIN = 5;

/** What waits for a person on a storefront, apart from what stands at its tracks' signals. */
export async function findingsOf(rt: Runtime, now: StorefrontNow): Promise<Finding[]> {
  const { id } = now.storefront;
  const names = new Map(now.connections.map(({ connection }) => [connection.id, connection.name]));
  const [odd, left, givenUp, quiet, calls, [untold]] = await rt.db.orm.batch([
    rt.db.orm
      .select()
      .from(rows)
      .where(and(eq(rows.storefrontId, id), eq(rows.mode, "live"), isOpenNow(rt.now())))
      .orderBy(desc(rows.openedAt))
      .limit(MOST),
    rt.db.orm
      .select({ connectionId: webhooks.connectionId, n: sql<number>`count(*)`.mapWith(Number) })
      .from(jobs)
      .innerJoin(webhooks, sql`${webhooks.number} = cast(${jobs.key} as integer)`)
      .where(
        and(
          eq(jobs.kind, "apply-webhook"),
          sql`${jobs.tries} > 0`,
          inArray(webhooks.connectionId, [...names.keys()]),
        ),
      )
      .groupBy(webhooks.connectionId),
    rt.db.orm
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(sql`${jobs.tries} > 0`, sql`${jobs.runAt} is null`, sql`${jobs.lease} is null`))
      .orderBy(desc(jobs.createdAt), desc(jobs.id))
      .limit(MOST),
    // Addresses with a payment that nothing was heard about; how long that is usual is asked of those alone.
    rt.db.orm
      .select({ endpoint: endpoints })
      .from(connectionStorefronts)
      .innerJoin(endpoints, eq(endpoints.connectionId, connectionStorefronts.connectionId))
      .where(
        and(
          eq(connectionStorefronts.storefrontId, id),
          eq(connectionStorefronts.live, "live"),
          eq(endpoints.mode, "live"),
          sql`${endpoints.retiredAt} is null and ${endpoints.provenAt} is not null`,
          sql`exists (select 1 from payments where connection_id = ${endpoints.connectionId} and mode = 'live'
            and origin <> 'rehearsal' and provider_ref is not null and created_at > max(${rt.now() - 86_400_000}, ${endpoints.provenAt})
            and not exists (select 1 from webhooks w where w.payment_id = payments.id))`,
        ),
      ),
    // How each provider answered in the last minutes; what broke over there counts as no answer.
    rt.db.orm
      .select({
        connectionId: exchanges.connectionId,
        all: sql<number>`count(*)`.mapWith(Number),
        silent: sql<number>`sum(ok = 0 and (response is null or response ->> '$.status' >= 500))`.mapWith(
          Number,
        ),
      })
      .from(exchanges)
      .where(
        and(
          inArray(exchanges.connectionId, [...names.keys()]),
          gt(exchanges.at, rt.now() - LATELY),
          eq(exchanges.mode, "live"),
          eq(exchanges.to, "provider"),
        ),
      )
      .groupBy(exchanges.connectionId),
    rt.db.orm
      .select({ n: sql<number>`count(*)`.mapWith(Number) })
      .from(jobs)
      .where(
        and(
          eq(jobs.kind, "deliver-news"),
          eq(jobs.lane, newsLane({ storefrontId: id, mode: "live" })),
          sql`${jobs.tries} >= ${TRIED_IN_VAIN}`,
        ),
      ),
  ]);
  const findings: Finding[] = odd.map((one) => ({
    id: one.id,
    title: findingTitle(one),
    says: findingSays(one),
    meaning: "wrong",
    to: findingPath(one),
  }));
  for (const { endpoint } of quiet) {
    const silence = await silenceOf(rt, endpoint.connectionId, "live", endpoint);
    if (!silence) continue;
    const minutes = Math.round(silence.waited / 60_000);
    findings.push({
      id: `silent ${endpoint.id}`,
      title: said("findings.fallen-silent", { account: names.get(endpoint.connectionId) ?? "none" }),
      says: said("findings.no-message-about-oldest", {
        payments: silence.payments,
        minutes,
        hours: minutes < 120 ? 0 : Math.round(minutes / 60),
      }),
      meaning: "waits",
      to: `/connect/${endpoint.connectionId}`,
    });
  }
  for (const { connectionId, all, silent } of calls)
    if (silent >= SILENCES && silent * 2 >= all)
      findings.push({
        id: `trouble ${connectionId}`,
        title: said("findings.in-trouble", { account: names.get(connectionId ?? "") ?? "none" }),
        says: said("findings.did-not-answer", { silent, all }),
        meaning: "wrong",
        to: `/exchanges?mode=live&connection=${connectionId ?? ""}`,
      });
  if (untold && untold.n > 0)
    findings.push({
      id: "untold",
      title: said("findings.news-not-taken", { pieces: untold.n }),
      says: said("findings.shop-tried-again"),
      meaning: "wrong",
      to: "/shop",
    });
  for (const { connectionId, n } of left)
    findings.push({
      id: `left ${connectionId}`,
      title: said("findings.not-applied", { messages: n, account: names.get(connectionId) ?? "none" }),
      says: said("findings.kept-applied-as-soon"),
      meaning: "waits",
      to: `/operate/webhooks?mode=live&result=left&connection=${connectionId}`,
    });
  if (givenUp.length > 0)
    findings.push({
      id: "jobs",
      title: said("findings.background-work-given-up", { pieces: givenUp.length }),
      says: said("findings.waits-press"),
      meaning: "waits",
      to: "jobs",
    });
  return findings;
}
