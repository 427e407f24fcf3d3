import { type Said, said } from "#core/said";
import { and, eq, sql } from "drizzle-orm";
import { sign } from "#core/webhooks/standard-webhooks";
import type { News } from "../database/rows";
import { newsAddresses, outbox } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { exchangeOf, send, wireFault } from "../wire/wire";
import { newsLane } from "./news";

const LONGEST_ANSWER = 100_000;
const SHOWN_OF_ANSWER = 2_000;
const PATIENCE = 10_000;

/** What became of one try: taken; not taken, with the reason; or not tried, because nobody has said where to. */
export type Delivery = { kind: "taken" } | { kind: "not-taken"; says: Said } | { kind: "nowhere" };

/** Sends one piece of news to where the shop listens. What was taken already is not sent again. */
export async function deliver(rt: Runtime, id: string): Promise<Delivery> {
  const [row] = await rt.db.orm
    .select({ news: outbox, where: newsAddresses })
    .from(outbox)
    .leftJoin(
      newsAddresses,
      and(eq(newsAddresses.storefrontId, outbox.storefrontId), eq(newsAddresses.mode, outbox.mode)),
    )
    .where(eq(outbox.id, id));
  if (!row || row.news.deliveredAt !== null) return { kind: "taken" };
  const { news, where } = row;
  if (!where) {
    // Kept until the shop says where it listens; that is no try.
    await rt.db.write([
      rt.db.orm
        .update(outbox)
        .set({ lastOutcome: said("deliver.shop-not-said-where") })
        .where(eq(outbox.id, id)),
    ]);
    return { kind: "nowhere" };
  }
  const at = rt.now();
  const secret = rt.seal.open(where.secret, `news:${news.storefrontId}:${news.mode}`);
  // A retry keeps its id and is signed anew with its own time.
  const headers = { "content-type": "application/json", ...sign(secret, news.id, at, news.body) };
  const outgoing = { method: "POST", url: where.address, headers, body: news.body };
  const sent = await send(rt, outgoing, { within: PATIENCE, most: LONGEST_ANSWER });
  const taken = sent.ok && sent.status >= 200 && sent.status < 300;
  const outcome = sent.ok
    ? said("deliver.shop-answered", { status: sent.status })
    : wireFault(sent, said("deliver.shop"));
  await rt.db.write([
    exchangeOf(rt, outgoing, sent, {
      label: said("deliver.news", { type: (JSON.parse(news.body) as { type: string }).type }),
      to: "shop",
      mode: news.mode,
      ...(news.paymentId && { paymentId: news.paymentId }),
      ...(news.checkoutId && { checkoutId: news.checkoutId }),
      secrets: [secret],
      outcome: sent.ok ? said("deliver.answered", { status: sent.status }) : outcome,
      ok: taken,
      ...(sent.ok && { keepsBody: sent.body.slice(0, SHOWN_OF_ANSWER) }),
    }),
    rt.db.orm
      .update(outbox)
      .set({ tries: sql`${outbox.tries} + 1`, deliveredAt: taken ? rt.now() : null, lastOutcome: outcome })
      .where(eq(outbox.id, id)),
  ]);
  return taken ? { kind: "taken" } : { kind: "not-taken", says: outcome };
}

/** Has news sent once more, whether it was taken, waits for its time or was given up. */
export async function sendAgain(rt: Runtime, { id, storefrontId, mode }: News): Promise<void> {
  await rt.db.write([
    rt.db.orm.update(outbox).set({ deliveredAt: null }).where(eq(outbox.id, id)),
    askFor(rt, { kind: "deliver-news", key: id, lane: newsLane({ storefrontId, mode }) }),
  ]);
  rt.nudge();
}
