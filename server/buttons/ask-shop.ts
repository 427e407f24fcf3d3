import { and, eq } from "drizzle-orm";
import { SHOP_ANSWERS_WITHIN } from "#core/buttons/course";
import { type Said, said } from "#core/said";
import { sign } from "#core/webhooks/standard-webhooks";
import type { ButtonSession } from "../database/rows";
import { newsAddresses } from "../database/schema";
import type { Runtime } from "../runtime";
import { exchangeOf, send } from "../wire/wire";

/** What a shop is asked while a shopper buys by a button, or told of it. */
export type ShopQuestion = "button.delivery" | "button.order" | "button.closed";

const labels: Record<ShopQuestion, Said> = {
  "button.delivery": said("buttons.delivery"),
  "button.order": said("buttons.order"),
  "button.closed": said("buttons.closed"),
};

const LONGEST_ANSWER = 500_000;

/** What a shop said: an answer, or nothing that can be used. */
export type ShopSaid = { kind: "answered"; body: unknown } | { kind: "silent" };

/**
 * Asks a shop, signed with the secret of its news, and waits for no longer than it may take. What was asked twice with one
 * `once` is the same question.
 */
export async function askShop(
  rt: Runtime,
  session: ButtonSession,
  question: ShopQuestion,
  data: Record<string, unknown>,
  once: string,
): Promise<ShopSaid> {
  const { storefrontId, mode, answersAt } = session;
  const [where] = await rt.db.orm
    .select()
    .from(newsAddresses)
    .where(and(eq(newsAddresses.storefrontId, storefrontId), eq(newsAddresses.mode, mode)));
  if (!where) return { kind: "silent" };
  const secret = rt.seal.open(where.secret, `news:${storefrontId}:${mode}`);
  const at = rt.now();
  const body = JSON.stringify({ type: question, timestamp: new Date(at).toISOString(), data });
  const headers = { "content-type": "application/json", ...sign(secret, once, at, body) };
  const outgoing = { method: "POST", url: answersAt, headers, body };
  const sent = await send(rt, outgoing, { within: SHOP_ANSWERS_WITHIN, most: LONGEST_ANSWER });
  const good = sent.ok && sent.status >= 200 && sent.status < 300;
  await rt.db.write([
    exchangeOf(rt, outgoing, sent, {
      label: labels[question],
      ...{ to: "shop", mode, connectionId: session.connectionId, secrets: [secret], ok: good },
      ...(session.checkoutId && { checkoutId: session.checkoutId }),
    }),
  ]);
  if (!good) return { kind: "silent" };
  try {
    return { kind: "answered", body: sent.body === "" ? {} : (JSON.parse(sent.body) as unknown) };
  } catch {
    return { kind: "silent" };
  }
}
