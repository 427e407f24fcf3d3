import { and, eq, isNull, lte, or, sql } from "drizzle-orm";
import { newsWait } from "#core/outbox/retry";
import { sign } from "#core/webhooks/standard-webhooks";
import { newsAddresses, outbox } from "../database/schema";
import { addressRefused } from "../gateway/addresses";
import { textUpTo } from "../gateway/answers";
import { exchangeRow, recorded } from "../gateway/exchanges";
import type { Runtime } from "../runtime";

type News = typeof outbox.$inferSelect;

const LEASE = 30_000;
const AT_A_TIME = 20;
const LONGEST_ANSWER = 100_000;

/** Delivers news that is due. Each row is leased first, so that several workers never send the same one at once. */
export async function deliverNews(rt: Runtime): Promise<number> {
  const now = rt.now();
  const free = or(isNull(outbox.leasedUntil), lte(outbox.leasedUntil, now));
  const due = await rt.db.orm
    .select()
    .from(outbox)
    .where(and(sql`next_at is not null`, lte(outbox.nextAt, now), free))
    .orderBy(outbox.nextAt, outbox.id)
    .limit(AT_A_TIME);
  let sent = 0;
  for (const news of due) {
    const [leased] = await rt.db.write([
      rt.db.orm
        .update(outbox)
        .set({ leasedUntil: rt.now() + LEASE })
        .where(and(eq(outbox.id, news.id), sql`next_at is not null`, free)),
    ]);
    if (leased !== 1) continue;
    await deliver(rt, news);
    sent++;
  }
  return sent;
}

async function deliver(rt: Runtime, news: News): Promise<void> {
  const [where] = await rt.db.orm
    .select()
    .from(newsAddresses)
    .where(and(eq(newsAddresses.storefrontId, news.storefrontId), eq(newsAddresses.mode, news.mode)));
  if (!where) {
    // Kept until the shop says where it listens.
    return settle(rt, news, {
      delivered: false,
      outcome: "The shop has not said where it listens.",
      wait: 60_000,
    });
  }
  const refused = await addressRefused(rt, where.address);
  if (refused) return settle(rt, news, { delivered: false, outcome: refused, wait: newsWait(news.tries) });
  const at = rt.now();
  const started = performance.now();
  const secret = rt.seal.open(where.secret, `news:${news.storefrontId}:${news.mode}`);
  // A retry keeps its id and is signed anew with its own time.
  const headers = {
    "content-type": "application/json",
    "user-agent": "Zahlung",
    ...sign(secret, news.id, at, news.body),
  };
  let status: number | null = null;
  let outcome: string;
  let answered = "";
  try {
    const response = await rt.http(where.address, {
      method: "POST",
      headers,
      body: news.body,
      redirect: "manual",
      signal: AbortSignal.timeout(10_000),
    });
    status = response.status;
    answered = ((await textUpTo(response, LONGEST_ANSWER)) ?? "").slice(0, 2000);
    outcome = `answered ${status}`;
  } catch (error) {
    outcome =
      error instanceof DOMException && error.name === "TimeoutError"
        ? "did not answer in time"
        : "could not be reached";
  }
  const delivered = status !== null && status >= 200 && status < 300;
  await settle(rt, news, { delivered, outcome: `The shop ${outcome}.`, wait: newsWait(news.tries) }, [
    exchangeRow(rt, {
      at,
      duration: Math.round(performance.now() - started),
      from: "zahlung",
      to: "shop",
      label: `news: ${(JSON.parse(news.body) as { type: string }).type}`,
      mode: news.mode,
      ...(news.paymentId && { paymentId: news.paymentId }),
      ...(news.checkoutId && { checkoutId: news.checkoutId }),
      request: recorded(
        { method: "POST", url: where.address, headers: Object.entries(headers), body: news.body },
        [secret],
      ),
      ...(status !== null && { response: recorded({ status, headers: [], body: answered }, [secret]) }),
      outcome,
      ok: delivered,
    }),
  ]);
}

interface Settled {
  delivered: boolean;
  outcome: string;
  wait: number | null;
}

async function settle(
  rt: Runtime,
  news: News,
  { delivered, outcome, wait }: Settled,
  also: ReturnType<typeof exchangeRow>[] = [],
) {
  const now = rt.now();
  await rt.db.write([
    ...also,
    rt.db.orm
      .update(outbox)
      .set({
        tries: news.tries + 1,
        deliveredAt: delivered ? now : null,
        nextAt: delivered || wait === null ? null : now + wait,
        leasedUntil: null,
        lastOutcome: outcome,
      })
      .where(eq(outbox.id, news.id)),
  ]);
}
