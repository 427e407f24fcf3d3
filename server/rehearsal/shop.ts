import { eq } from "drizzle-orm";
import { nothingObserved } from "#core/rehearsal/judge";
import type { SessionAddress } from "#core/profiles/answers";
import { said } from "#core/said";
import { askWhatItComesTo, type Basket, isKeptFromStrangers } from "../buttons/price";
import { testPages } from "../database/schema";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";
import type { Play } from "./observe";

/**
 * Asks the shop what the basket of its newest test page comes to where that page says it goes, as it is asked while a wallet is
 * open, and once more without its secret. Nothing is ordered.
 */
export async function playShop(rt: Runtime, { offer, connection }: OfferWithRevisions): Promise<Play> {
  const { storefrontId } = offer;
  const [page] = await rt.db.orm.select().from(testPages).where(eq(testPages.storefrontId, storefrontId));
  if (!page) return { ok: false, says: said("play.no-test-page") };
  const { basket, cart, answersAt } = page;
  const { region, postcode } = cart.asked.shipTo ?? {};
  const address: SessionAddress = {
    country: cart.country,
    ...(region && { region }),
    ...(postcode && { postcode }),
  };
  const asked: Basket = {
    ...{ id: rt.ids.next("btn"), storefrontId, mode: "test", answersAt, basket, cart },
    ...{ offerId: offer.id, connectionId: connection.id, checkoutId: null },
  };
  const answer = await askWhatItComesTo(rt, asked, address);
  switch (answer.kind) {
    case "silent":
      return { ok: false, says: said("play.shop-silent", { address: answersAt }) };
    case "unreadable":
      return { ok: false, says: said("play.shop-unreadable", { address: answersAt, at: answer.at }) };
    case "refused":
      return { ok: false, says: said("play.shop-refused", { country: cart.country }) };
    case "given": {
      const strangersRefused = (await isKeptFromStrangers(rt, asked, address)) ? 1 : 0;
      return {
        ok: true,
        paymentId: null,
        observed: { ...nothingObserved, shopAnswers: 1, strangersRefused },
      };
    }
  }
}
