import { moneyText } from "#core/money/money";
import { dayText } from "#core/orders/view";
import { checkoutAddress } from "#server/checkouts/checkouts";
import { instrumentRow, type Shopper } from "#server/instruments/instruments";
import type { Runtime } from "#server/runtime";
import {
  actOn,
  actsOf,
  changeInstrument,
  instrumentsFor,
  type SubscriptionAct,
} from "#server/subscriptions/change";
import { subscriptionsOfShopper } from "#server/subscriptions/list";
import { mayChange, newWayFor, takesNewWays } from "#server/subscriptions/new-way";
import { see } from "#server/subscriptions/subscriptions";
import { mustStand } from "#server/storefronts/now";

/** What a shopper may do with what they subscribe to: it is never ended at once, as its period is paid. */
const shoppersActs = [
  "pause",
  "resume",
  "skip",
  "cancel-at-end",
  "go-on",
] as const satisfies SubscriptionAct[];
export type ShoppersAct = (typeof shoppersActs)[number];
export const isShoppersAct = (value: unknown): value is ShoppersAct =>
  shoppersActs.some((one) => one === value);

/** What a shopper subscribes to, in their language; `pay` is where a period that is not paid can be. */
export async function subscribedTo(rt: Runtime, whose: Shopper & { language: string }) {
  const [all, now] = await Promise.all([
    subscriptionsOfShopper(rt, whose),
    mustStand(rt, whose.storefrontId),
  ]);
  const newWays = takesNewWays(now, whose.mode);
  return Promise.all(
    all.map(async (one) => {
      const { id, terms, quantity, state, ends, nextDue, amount, currency, customer } = one;
      const locale = `${whose.language.split("-")[0]}-${customer.country}`;
      const [mine, usable] = await Promise.all([
        instrumentRow(rt, one.instrumentId),
        instrumentsFor(rt, one),
      ]);
      const behind = state === "behind" ? (await see(rt, id))?.unsettled : null;
      return {
        ...{ id, state, ends },
        name: quantity === 1 ? terms.name : `${quantity} × ${terms.name}`,
        sum: moneyText({ amount, currency }, locale),
        day: nextDue === null ? null : dayText(nextDue, locale, terms.timeZone),
        pay: behind ? checkoutAddress(rt, behind.checkout) : null,
        chargedTo: mine?.state === "kept" ? mine.name : null,
        others: usable
          .filter((each) => each.id !== one.instrumentId)
          .map(({ id: other, name }) => ({ id: other, name })),
        takesNew: mayChange(one) && newWays,
        acts: shoppersActs.filter((act) => actsOf(one).includes(act)),
      };
    }),
  );
}

/** Has a subscription of a shopper's charged to something else of theirs; another's is left alone. */
export async function chargeToOther(
  rt: Runtime,
  whose: Shopper,
  id: string,
  instrument: string,
): Promise<void> {
  const all = await subscriptionsOfShopper(rt, whose);
  if (all.some((one) => one.id === id)) await changeInstrument(rt, id, instrument, "shopper");
}

/** Where a shopper gives something new for a subscription of theirs; null for another's, or where nothing can be given. */
export async function newWayOf(rt: Runtime, whose: Shopper, id: string): Promise<string | null> {
  const one = (await subscriptionsOfShopper(rt, whose)).find((each) => each.id === id);
  return one ? newWayFor(rt, one) : null;
}

/** Does what a shopper wants with a subscription of theirs; another's is left alone. */
export async function actForShopper(
  rt: Runtime,
  whose: Shopper,
  id: string,
  act: ShoppersAct,
): Promise<void> {
  const all = await subscriptionsOfShopper(rt, whose);
  if (all.some((one) => one.id === id)) await actOn(rt, id, act, "shopper");
}
