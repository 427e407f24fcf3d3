import { and, eq } from "drizzle-orm";
import { lookIn } from "#core/looks/look";
import { said, ToldError } from "#core/said";
import { checkoutAddress } from "../checkouts/checkouts";
import { checkouts, subscriptionPeriods, subscriptions } from "../database/schema";
import { lookFor } from "../looks/looks";
import { sendMail } from "../notices/mail";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";

/** Writes to a shopper whose period could not be charged, as long as it is not paid. Throws where the letter is not taken. */
export async function sendAsking(rt: Runtime, key: string): Promise<void> {
  const [id = "", number = ""] = key.split(":");
  const [found] = await rt.db.orm
    .select({ subscription: subscriptions, period: subscriptionPeriods, checkout: checkouts })
    .from(subscriptionPeriods)
    .innerJoin(subscriptions, eq(subscriptions.id, subscriptionPeriods.subscriptionId))
    .innerJoin(checkouts, eq(checkouts.id, subscriptionPeriods.checkoutId))
    .where(and(eq(subscriptionPeriods.subscriptionId, id), eq(subscriptionPeriods.number, Number(number))));
  const { subscription, period, checkout } = found ?? {};
  if (!subscription || period?.state !== "open" || checkout?.state !== "open") return;
  const { terms, customer, storefrontId, mode } = subscription;
  if (customer.email === "") return;
  const [storefront, look] = await Promise.all([
    storefrontOf(rt, storefrontId),
    lookFor(rt, storefrontId, mode),
  ]);
  const { subject, text, html } = await rt.writeAsking({
    ...{ storefront: storefront?.name ?? "", look: lookIn(look, customer.language), mode },
    ...{ name: terms.name, sum: { amount: period.amount, currency: terms.currency } },
    ...{ language: customer.language, country: customer.country, origin: rt.settings.origin },
    ...{ order: checkout.reference, dueAt: period.dueAt, address: checkoutAddress(rt, checkout) },
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
