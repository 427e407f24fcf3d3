import type { Repeats } from "#core/subscriptions/plan";
import { usualTrying } from "#core/subscriptions/plan";
import { checkoutByToken, checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import type { Runtime } from "#server/runtime";
import type { Way } from "./shoppers";
import { must, until } from "./play";

/** What Luvwinkel's shoppers subscribe to. */
export const kiteClub: Repeats = {
  plans: [
    {
      id: "season",
      names: { de: "Ein Drachen je Saison", en: "A kite a season" },
      ...{ rhythm: { count: 3, unit: "month" }, times: null },
      ...{ prices: { EUR: 4_900 }, setUp: { EUR: 500 } },
      setUpNames: { de: "Einrichtung", en: "Setting up" },
      ...{ trial: { days: 14, prices: {} }, fixedDay: null, tax: { share: 1_900, included: true } },
    },
    {
      id: "line-club",
      names: { de: "Leinenclub", en: "Line club" },
      ...{ rhythm: { count: 2, unit: "week" }, times: null },
      ...{ prices: { EUR: 790 }, setUp: {}, setUpNames: {} },
      ...{ trial: null, fixedDay: null, tax: { share: 1_900, included: true } },
    },
  ],
  trying: usualTrying,
  timeZone: "Europe/Berlin",
};

/** A shopper who is signed in subscribes at the shop, and pays with a card that they type. Returns the order's number. */
export async function subscribeAt(
  rt: Runtime,
  shop: string,
  plan: string,
  { offerId, frame }: Way & { frame: NonNullable<Way["frame"]> },
): Promise<string> {
  const sent = await fetch(`${shop}/seasons`, {
    method: "POST",
    headers: { cookie: "customer=seebrise" },
    body: new URLSearchParams({ email: "ida@example.org", plan }),
    redirect: "manual",
  });
  const token = must(sent.headers.get("location")?.split("/").at(-1), "checkout");
  const checkout = must(await checkoutByToken(rt, token), "checkout");
  const card = await frame.karvello.token(frame.side, frame.keys, frame.card);
  const words = "Ich stimme zu, dass Luvwinkel dies abbucht, ohne mich jedes Mal zu fragen.";
  const paid = await pay(rt, checkout, offerId, card, { mandate: { words, language: "de" }, patient: true });
  if (paid.kind !== "payment") throw new Error(`a subscription was not paid: ${JSON.stringify(paid)}`);
  const { scene } = await viewOf(rt, must(await checkoutOf(rt, checkout.id), "checkout"), null);
  if (scene.name === "challenge")
    await fetch(scene.address, {
      method: "POST",
      body: new URLSearchParams({ ...scene.handOver, answer: "pass" }),
      redirect: "manual",
    });
  const id = must(checkout.order.subscription, "subscription").id;
  await until("the subscription", async () => {
    const found = await rt.db.client.execute({
      sql: "select state from subscriptions where id = ?",
      args: [id],
    });
    return found.rows[0]?.state === "running";
  });
  return checkout.reference;
}
