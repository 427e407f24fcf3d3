import { randomBytes } from "node:crypto";
import { and, eq } from "drizzle-orm";
import { SHOP_ANSWERS_WITHIN } from "#core/buttons/course";
import { type Said, said } from "#core/said";
import { sign } from "#core/webhooks/standard-webhooks";
import type { ButtonSession } from "../database/rows";
import { newsAddresses } from "../database/schema";
import type { Runtime } from "../runtime";
import { type Answered, exchangeOf, type Sent, send } from "../wire/wire";

/** What a shop is asked while a shopper buys by a button, or told of it. */
export type ShopQuestion = "button.delivery" | "button.order" | "button.closed";

const labels: Record<ShopQuestion, Said> = {
  "button.delivery": said("buttons.delivery"),
  "button.order": said("buttons.order"),
  "button.closed": said("buttons.closed"),
};

const LONGEST_ANSWER = 500_000;

/** Nothing came that can be used, or not in time. */
export interface Silence {
  kind: "silent";
}
/** What a shop said: an answer, or nothing that can be used. */
export type ShopSaid = { kind: "answered"; body: unknown } | Silence;

/** Whose shop is asked, where, and what of. */
export type Asking = Pick<
  ButtonSession,
  "storefrontId" | "mode" | "answersAt" | "connectionId" | "checkoutId"
>;

/**
 * Asks a shop, signed with the secret of its news, and waits for no longer than it may take. What was asked twice with one
 * `once` is the same question.
 */
export async function askShop(
  rt: Runtime,
  asking: Asking,
  question: ShopQuestion,
  data: Record<string, unknown>,
  once: string,
): Promise<ShopSaid> {
  const { storefrontId, mode } = asking;
  const [where] = await rt.db.orm
    .select()
    .from(newsAddresses)
    .where(and(eq(newsAddresses.storefrontId, storefrontId), eq(newsAddresses.mode, mode)));
  if (!where) return { kind: "silent" };
  const secret = rt.seal.open(where.secret, `news:${storefrontId}:${mode}`);
  const { sent, note } = await ask(rt, asking, { question, data, once, secret });
  const good = isTaken(sent);
  await rt.db.write([note(labels[question], good)]);
  if (!good) return { kind: "silent" };
  try {
    return { kind: "answered", body: sent.body === "" ? {} : (JSON.parse(sent.body) as unknown) };
  } catch {
    return { kind: "silent" };
  }
}

/** Whether a shop refuses a question that is signed with another secret than the one of its news. */
export async function refusesStrangers(
  rt: Runtime,
  asking: Asking,
  question: ShopQuestion,
  data: Record<string, unknown>,
): Promise<boolean> {
  const secret = `whsec_${randomBytes(32).toString("base64")}`;
  const once = rt.ids.next("ask");
  const { sent, note } = await ask(rt, asking, { question, data, once, secret });
  const refused = sent.ok && sent.status >= 400 && sent.status < 500;
  await rt.db.write([note(said("buttons.delivery-as-stranger"), refused)]);
  return refused;
}

const isTaken = (sent: Sent): sent is Answered => sent.ok && sent.status >= 200 && sent.status < 300;

/** Puts a question to a shop, signed, and has it noted under a label, and whether that is as it should be. */
async function ask(
  rt: Runtime,
  { mode, answersAt, connectionId, checkoutId }: Asking,
  {
    question,
    data,
    once,
    secret,
  }: { question: ShopQuestion; data: Record<string, unknown>; once: string; secret: string },
) {
  const at = rt.now();
  const body = JSON.stringify({ type: question, timestamp: new Date(at).toISOString(), data });
  const headers = { "content-type": "application/json", ...sign(secret, once, at, body) };
  const outgoing = { method: "POST", url: answersAt, headers, body };
  const sent = await send(rt, outgoing, { within: SHOP_ANSWERS_WITHIN, most: LONGEST_ANSWER });
  const note = (label: Said, ok: boolean) =>
    exchangeOf(rt, outgoing, sent, {
      ...{ label, to: "shop", mode, connectionId, secrets: [secret], ok },
      ...(checkoutId && { checkoutId }),
    });
  return { sent, note };
}
