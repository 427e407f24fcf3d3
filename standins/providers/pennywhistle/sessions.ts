import type { Request, Router } from "express";
import { type Account, decimal, fromDecimal, type House, type SideName } from "../../kit/house";
import { Fault, text } from "../../kit/provider";
import { type Asking, choose, homeOf, isReady, openErrand, type Errand, errandsOf } from "../../kit/errands";

/** How Pennywhistle asks a shop what a purchase comes to at an address, and what it reads of the answer. */
export const asking: Asking = {
  body: (errand, { land, postcode, city }, choice) => ({
    session: errand.no,
    ship_to: { country: land, code: postcode, town: city },
    choice,
  }),
  read(errand, { no, total, choices, choice }) {
    if (typeof no === "string") return { no };
    const { value, currency } = (total ?? {}) as { value?: string; currency?: string };
    const sum = fromDecimal(value, errand.coin);
    if (sum === null || currency !== errand.coin || !Array.isArray(choices)) return null;
    return {
      sum,
      choice: typeof choice === "string" ? choice : null,
      choices: (choices as { id: string; words: string; price: string }[]).map(({ id, words, price }) => ({
        ...{ id, words, price: fromDecimal(price, errand.coin) ?? 0 },
      })),
    };
  },
};

const phases = { open: "open", agreed: "agreed", left: "left" } as const;

/** A session as Pennywhistle writes it; whose it is and where it goes only once they have agreed. */
function session(house: House, side: SideName, errand: Errand) {
  const home = homeOf(errand);
  const agreed = errand.stand === "agreed" && home;
  return {
    id: errand.no,
    phase: phases[errand.stand],
    amount: { value: decimal(errand.sum, errand.coin), currency: errand.coin },
    page: house.address(side, `/errand/${errand.no}`),
    choice: errand.choice,
    payer: agreed ? { name: home.name, mail: home.email, phone: home.phone } : null,
    ship_to: agreed ? { country: home.land, code: home.postcode, town: home.city, street: home.lines } : null,
  };
}

/** Purchases that a shopper agrees to before they are made, below a merchant whose token has been looked at. */
export function sessionRoutes(
  router: Router,
  house: House,
  side: SideName,
  me: (request: Request) => Account,
) {
  router.post("/sessions", (request, response) => {
    const account = me(request);
    const body = (request.body as { session?: Record<string, unknown> } | undefined)?.session ?? {};
    const { your_reference, amount, shop, return_to, ask_at, language } = body;
    if (account.review !== "open")
      throw new Fault(403, "merchant_not_active", "The merchant may not take payments yet");
    const { value, currency = "" } = (amount ?? {}) as { value?: string; currency?: string };
    if (!account.coins.some((one) => one.coin === currency))
      throw new Fault(422, "currency_not_taken", `The merchant takes no ${currency}`);
    const sum = fromDecimal(value, currency);
    const where = [return_to, ask_at].every((one) => typeof one === "string" && URL.canParse(one));
    if (sum === null || !text(your_reference, 80) || !where)
      throw new Fault(400, "unreadable", "amount, your_reference, return_to or ask_at is malformed");
    const errand = openErrand(house, side, {
      ...{ account: account.id, ref: your_reference, sum, coin: currency },
      ...{ askAt: String(ask_at), goBackTo: String(return_to), language: String(language ?? "en") },
      ...(text(shop, 60) && { shownAs: shop }),
    });
    response.status(201).json({ session: session(house, side, errand) });
  });
  const errandOf = (request: Request): Errand => {
    const errand = errandsOf(house, side)[String(request.params.id)];
    if (errand?.account !== me(request).id)
      throw new Fault(404, "no_such_purchase", "There is no such session");
    return errand;
  };
  router.get(
    "/sessions/:id",
    (request, response) => void response.json({ session: session(house, side, errandOf(request)) }),
  );
  if (side === "sandbox")
    router.post("/sessions/:id/payer", async (request, response) => {
      const errand = errandOf(request);
      const { home, choice, does } = request.body as { home?: string; choice?: string; does?: string };
      if (home || choice)
        await choose(house, asking, errand, { ...(home && { home }), ...(choice && { choice }) });
      if (does === "leave") errand.stand = "left";
      else if (does) {
        if (!isReady(errand)) throw new Fault(409, "phase_not_right", "It cannot be agreed to as it stands");
        Object.assign(errand, { stand: "agreed", does });
      }
      house.changed();
      response.json({ session: session(house, side, errand) });
    });
}

/** Takes what was agreed to for a purchase of just that sum, once. */
export function useSession(
  house: House,
  side: SideName,
  account: Account,
  id: string,
  sum: number,
  coin: string,
): Errand {
  const errand = errandsOf(house, side)[id];
  if (errand?.account !== account.id || errand.stand !== "agreed")
    throw new Fault(422, "not_agreed", "Nobody has agreed to this session");
  if (errand.used) throw new Fault(409, "agreed_used", "This session has been used");
  if (errand.sum !== sum || errand.coin !== coin)
    throw new Fault(422, "other_amount", "The payer agreed to another sum");
  errand.used = true;
  house.changed();
  return errand;
}
