import { and, eq } from "drizzle-orm";
import { lookIn } from "#core/looks/look";
import { said, ToldError } from "#core/said";
import type { AskingView } from "#core/subscriptions/asking";
import { checkoutAddress } from "../checkouts/checkouts";
import type { Subscription } from "../database/rows";
import { checkouts, subscriptionPeriods, subscriptions } from "../database/schema";
import { instrumentRow, nameOf } from "../instruments/instruments";
import { lookFor } from "../looks/looks";
import { sendMail } from "../notices/mail";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";
import { newWayFor } from "./new-way";
import { subscriptionOf } from "./subscriptions";

/**
 * Sends the letter that a key names: `subscription:number:…` asks for a period that could not be charged, as long as it is
 * not paid, `subscription:ends:…` tells that what it is charged to ends. Throws where the letter is not taken.
 */
export async function sendAsking(rt: Runtime, key: string): Promise<void> {
  const [id = "", what = ""] = key.split(":");
  await (what === "ends" ? tellOfEnd(rt, id, key) : askFor(rt, id, Number(what), key));
}

async function askFor(rt: Runtime, id: string, number: number, key: string): Promise<void> {
  const [found] = await rt.db.orm
    .select({ subscription: subscriptions, period: subscriptionPeriods, checkout: checkouts })
    .from(subscriptionPeriods)
    .innerJoin(subscriptions, eq(subscriptions.id, subscriptionPeriods.subscriptionId))
    .innerJoin(checkouts, eq(checkouts.id, subscriptionPeriods.checkoutId))
    .where(and(eq(subscriptionPeriods.subscriptionId, id), eq(subscriptionPeriods.number, number)));
  const { subscription, period, checkout } = found ?? {};
  if (!subscription || period?.state !== "open" || checkout?.state !== "open") return;
  await send(rt, subscription, key, {
    ...{ ends: null, amount: period.amount, dueAt: period.dueAt },
    ...{ order: checkout.reference, address: checkoutAddress(rt, checkout) },
  });
}

/** Tells a shopper that what they are charged to ends, as long as it is that; at the shop, where nothing new can be given here. */
async function tellOfEnd(rt: Runtime, id: string, key: string): Promise<void> {
  const subscription = await subscriptionOf(rt, id);
  if (subscription?.state !== "running" || subscription.nextDue === null) return;
  const { instrumentId, nextDue, amount, reference, customer, toldEnds } = subscription;
  const instrument = await instrumentRow(rt, instrumentId);
  if (instrument?.state !== "kept" || toldEnds !== instrumentId) return;
  const address = (await newWayFor(rt, subscription, nextDue)) ?? customer.returnAddress;
  await send(rt, subscription, key, {
    ...{ ends: nameOf(instrument), amount, dueAt: nextDue, order: reference, address },
  });
}

async function send(
  rt: Runtime,
  { terms, customer, storefrontId, mode }: Subscription,
  key: string,
  { amount, ...says }: Pick<AskingView, "ends" | "dueAt" | "order" | "address"> & { amount: number },
): Promise<void> {
  if (customer.email === "") return;
  const [storefront, look] = await Promise.all([
    storefrontOf(rt, storefrontId),
    lookFor(rt, storefrontId, mode),
  ]);
  const { subject, text, html } = await rt.writeAsking({
    ...{ storefront: storefront?.name ?? "", look: lookIn(look, customer.language), mode },
    ...{ timeZone: terms.timeZone, name: terms.name, sum: { amount, currency: terms.currency } },
    ...{ language: customer.language, country: customer.country, origin: rt.settings.origin },
    ...says,
  });
  try {
    await sendMail(rt, {
      ...{ to: customer.email, subject, text, html, name: storefront?.name ?? "" },
      ...(look.support?.email && { replyTo: look.support.email }),
      messageId: `${key.replaceAll(":", ".")}@${new URL(rt.settings.origin).hostname}`,
    });
  } catch (error) {
    throw new ToldError(said("receipts.not-taken", { because: error instanceof Error ? error.message : "" }));
  }
}
