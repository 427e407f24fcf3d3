import type { Mode } from "#core/mode";
import { type Cart, decide } from "#core/offers/decide";
import type { NoticePlace, NoticeView } from "#core/offers/notices";
import { candidatesIn } from "../offers/candidates";
import { quotesFor } from "../offers/quotes";
import type { Runtime } from "../runtime";
import { escaped } from "./escaped";
import { offerIn, type StorefrontNow } from "../storefronts/now";

interface Wanted {
  mode: Mode;
  place: NoticePlace;
  cart: Cart;
}

/**
 * The notices of a page for a shopper: of every offer that tells of its instalments there and is shown for this basket, in
 * the order of the offers. Who does not answer within `patience` milliseconds is left out.
 */
export async function noticesFor(
  rt: Runtime,
  now: StorefrontNow,
  { mode, place, cart }: Wanted,
  patience: number,
): Promise<NoticeView[]> {
  const telling = candidatesIn(now, mode).filter(({ document }) => document.notices?.includes(place));
  if (telling.length === 0) return [];
  const { country, language, total } = cart;
  const { currency } = total;
  const views = await Promise.all(
    decide(telling, cart).shown.map(async ({ id, label, charge }) => {
      const offer = offerIn(now, id);
      if (!offer) return null;
      const amount = total.amount + charge;
      const quoted = await quotesFor(rt, { mode, amount, currency, country, language }, offer, patience);
      const about = { language, country, total: { amount, currency } };
      return rt.writeNotice({ offer: id, label, quoted }, about);
    }),
  );
  return views.filter((one) => one !== null);
}

/** A notice as a page puts it in: it can be read without any script. */
export const noticeMarkup = ({ offer, language, direction, lines, more }: NoticeView, token: string) =>
  `<zahlung-notice token="${escaped(token)}" offer="${escaped(offer)}" more="${escaped(more)}" ` +
  `lang="${escaped(language)}" dir="${direction}">` +
  `<span>${escaped(lines[0])}</span><small>${escaped(lines[1])}</small></zahlung-notice>`;
