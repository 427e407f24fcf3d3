import { and, eq, inArray, ne, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Webhook } from "../database/rows";
import { connectionStorefronts, payments, webhooks } from "../database/schema";
import { walk } from "../database/walk";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { applicableAgain } from "./apply";

const PAGE = 30;
export const MOST_EXPORTED = 10_000;

/** What messages came to, by the words a list can be narrowed with. */
const results = {
  well: and(
    eq(webhooks.verdict, "verified"),
    inArray(webhooks.outcome, ["applied", "repeated", "ping", "account"]),
  ),
  refused: ne(webhooks.verdict, "verified"),
  left: and(
    eq(webhooks.verdict, "verified"),
    inArray(webhooks.outcome, ["unknown-payment", "not-understood", "failing", "given-up"]),
  ),
};
export type WebhookResult = keyof typeof results;
export const isWebhookResult = (value: unknown): value is WebhookResult =>
  typeof value === "string" && Object.hasOwn(results, value);

export interface WebhookFilter {
  connection?: string | null;
  result?: WebhookResult | null;
  most?: number;
}

/** A message with the order that it is about. */
export type ListedWebhook = Webhook & { order: string | null };

/** Webhooks received for a storefront's connections, newest first, with the next page's cursor. */
export async function listWebhooks(
  rt: Runtime,
  storefrontId: string,
  mode: Mode,
  before: number | null,
  { connection = null, result = null, most = PAGE }: WebhookFilter = {},
): Promise<{ rows: ListedWebhook[]; next: number | null }> {
  const conditions = and(
    eq(webhooks.connectionId, connectionStorefronts.connectionId),
    eq(webhooks.mode, mode),
    result ? results[result] : undefined,
  );
  const path = { table: webhooks, by: [webhooks.number], greatest: before === null ? null : before - 1 };
  // The newest of each connection by its own index; they are put together here, so that nothing is sorted there.
  const rows = await walk(rt, path, most + 1, async (stretch, left) => {
    const found = await rt.db.orm
      .select({ webhook: webhooks, order: payments.orderReference })
      .from(connectionStorefronts)
      .innerJoin(
        webhooks,
        sql`${webhooks.number} in (select ${webhooks.number} from ${webhooks} where ${and(conditions, stretch)}
          order by ${webhooks.number} desc limit ${left})`,
      )
      .leftJoin(payments, eq(payments.id, webhooks.paymentId))
      .where(
        and(
          eq(connectionStorefronts.storefrontId, storefrontId),
          ...(connection ? [eq(connectionStorefronts.connectionId, connection)] : []),
        ),
      );
    return found
      .map((row): ListedWebhook => ({ ...row.webhook, order: row.order }))
      .sort((a, b) => b.number - a.number);
  });
  return {
    rows: rows.slice(0, most),
    next: rows.length > most ? (rows[most - 1]?.number ?? null) : null,
  };
}

/** Has a message applied again that could not be. False when it is none of the storefront's, or nothing is left to do. */
export async function applyNow(rt: Runtime, storefrontId: string, number: number): Promise<boolean> {
  const [row] = await rt.db.orm
    .select({ webhook: webhooks })
    .from(webhooks)
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, webhooks.connectionId))
    .where(and(eq(webhooks.number, number), eq(connectionStorefronts.storefrontId, storefrontId)))
    .limit(1);
  if (!row || row.webhook.verdict !== "verified" || !applicableAgain.includes(row.webhook.outcome))
    return false;
  await rt.db.write([
    askFor(rt, { kind: "apply-webhook", key: String(number), lane: row.webhook.connectionId }),
  ]);
  rt.nudge();
  return true;
}
