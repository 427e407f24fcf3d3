import { viewOf } from "#server/checkouts/view";
import { checkoutByToken, checkoutOf } from "#server/checkouts/checkouts";
import { comeBack } from "#server/checkouts/come-back";
import { requestToken } from "#server/checkouts/device";
import { pay } from "#server/checkouts/pay";
import { paymentOf } from "#server/payments/record";
import type { Checkout, Payment } from "#server/database/rows";
import type { Runtime } from "#server/runtime";
import type { AtKarvello } from "./karvello";
import { must } from "./play";

/** How a shopper pays: an offer, whether it goes well, and what only some ways need. */
export interface Way {
  offerId: string;
  good: boolean;
  /** For a card that is typed into the provider's own frame. */
  frame?: { karvello: AtKarvello; keys: Record<string, string>; side: "sandbox" | "live"; card: string };
  /** Cards for the provider's own page: what they lead to → number. */
  cards?: Map<string, string>;
  device?: boolean;
}

/** A shopper on the hosted page: chooses, and does what the provider's page or the phone asks. Returns the payment. */
export async function shop(
  rt: Runtime,
  standins: string,
  token: string,
  { offerId, good, frame, cards, device }: Way,
): Promise<Payment | null> {
  const checkout = must(await checkoutByToken(rt, token), "checkout");
  if (device) return onDevice(rt, checkout, offerId, good);
  const given = frame ? await frame.karvello.token(frame.side, frame.keys, frame.card) : "";
  const paid = await pay(rt, checkout, offerId, given);
  if (paid.kind !== "payment") return null;
  await answer(rt, standins, checkout.id, good, cards);
  return paymentOf(rt, paid.payment.id);
}

const post = (address: string, form: Record<string, string>) =>
  fetch(address, { method: "POST", body: new URLSearchParams(form), redirect: "manual" });

/** The choices of a provider's page, the one that goes well first. */
async function choicesOn(address: string): Promise<string[]> {
  const page = await (await fetch(address)).text();
  return [...page.matchAll(/name="does"\s+value="([^"]+)"/g)].map(([, value = ""]) => value);
}
const decide = async (address: string, good: boolean) => {
  const choices = await choicesOn(address);
  await post(address, { does: must(choices[good ? 0 : 1], "choice") });
};

/** Follows the way back to the hosted page. */
const back = async (rt: Runtime, checkoutId: string) =>
  comeBack(rt, must(await checkoutOf(rt, checkoutId), "checkout"));

/** Answers whatever the hosted page leads to, if it leads anywhere. */
async function answer(
  rt: Runtime,
  standins: string,
  checkoutId: string,
  good: boolean,
  cards: Map<string, string> | undefined,
): Promise<void> {
  const { scene } = await viewOf(rt, must(await checkoutOf(rt, checkoutId), "checkout"), null);
  // A code is scanned beside the page, which stays where it is.
  if (scene.name === "code") {
    const phone = await post(`${standins}/phone`, { code: scene.code.text });
    return decide(must(phone.headers.get("location"), "the phone's page"), good);
  }
  if (scene.name !== "challenge") return;
  if (!cards) await decide(scene.address, good);
  else {
    const number = [...cards].find(([, says]) =>
      good ? says === "approved" : says.startsWith("declined"),
    )?.[0];
    await post(scene.address, { press: "pay", number: must(number, "card") });
  }
  await back(rt, checkoutId);
}

async function onDevice(
  rt: Runtime,
  checkout: Checkout,
  offerId: string,
  good: boolean,
): Promise<Payment | null> {
  const asked = await requestToken(rt, checkout, offerId);
  if (asked.kind !== "asked") return null;
  const choices = await choicesOn(asked.address);
  await post(asked.address, { does: must(good ? choices[0] : choices.at(-1), "choice") });
  await back(rt, checkout.id);
  const paid = (await checkoutOf(rt, checkout.id))?.activePaymentId ?? null;
  return paid === null && !good ? null : paymentOf(rt, must(paid, "payment"));
}
