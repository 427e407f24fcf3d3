import type { Request, Router } from "express";
import { type Account, type House, type SideName } from "../../kit/house";
import { type Asking, choose, type Errand, errandsOf, homeOf, isReady, openErrand } from "../../kit/errands";
import { Fault, text } from "../../kit/provider";
import { decide, deviceChoices, sealFor } from "./asks";

/** How Thumbra asks a shop what something comes to at an address, and what it reads of the answer. Sums in minor units. */
export const asking: Asking = {
  body: (errand, { land, postcode, city }, choice) => ({
    errand: errand.no,
    to: { land, code: postcode, place: city },
    way: choice,
  }),
  read(errand, { no, sum, coin, ways, way }) {
    if (typeof no === "string") return { no };
    if (!Number.isSafeInteger(sum) || coin !== errand.coin || !Array.isArray(ways)) return null;
    return {
      sum: sum as number,
      choice: typeof way === "string" ? way : null,
      choices: (ways as { id: string; named: string; costs: number }[]).map(({ id, named, costs }) => ({
        ...{ id, words: named, price: costs },
      })),
    };
  },
};

/** Seals the card that was pressed for just the sum that the errand came to. */
export function seal(house: House, side: SideName, errand: Errand, does: string): void {
  const bill = house.open(
    side,
    {
      ...{ account: errand.account, ref: `${errand.ref} (errand)`, sum: errand.sum, coin: errand.coin },
      ...{ takeNow: true, goBackTo: null, way: "" },
    },
    `TA-${errand.no}`,
  );
  errand.token = decide(house, side)(bill, does) ? null : sealFor(house, side, bill.no);
}

const stands = { open: "waiting", agreed: "pressed", left: "over" } as const;

/** An errand as Thumbra writes it; who it is and where it goes only once a thumb was on it. */
function told(house: House, side: SideName, errand: Errand) {
  const home = homeOf(errand);
  const agreed = errand.stand === "agreed" && home !== null;
  return {
    ...{ errand: errand.no, sum: errand.sum, coin: errand.coin, way: errand.choice },
    stand: errand.stand === "agreed" && errand.token === null ? "over" : stands[errand.stand],
    at: house.address(side, `/errand/${errand.no}`),
    sealed: errand.token,
    to: agreed ? { land: home.land, code: home.postcode, place: home.city, lines: home.lines } : null,
    who: agreed ? { name: home.name, mail: home.email, call: home.phone } : null,
  };
}

/** What is bought by a button on a shop's page, below a seller whose key has been looked at. */
export function errandApi(
  router: Router,
  house: House,
  side: SideName,
  seller: (request: Request) => Account,
  knows: (account: Account, domain: string) => boolean,
) {
  router.post("/sellers/:id/errands", (request, response) => {
    const account = seller(request);
    const { sum, coin, ref, domain, back_to, ask_at, tongue } = request.body as Record<string, unknown>;
    if (account.review !== "open") throw new Fault(403, "seller-closed", "The seller is not open");
    if (!text(domain, 200) || !knows(account, domain))
      throw new Fault(403, "domain-unseen", `The file was not found on ${String(domain)} yet`);
    if (!account.coins.some((one) => one.coin === coin))
      throw new Fault(422, "coin-unknown", `The seller takes no ${String(coin)}`);
    const where = [back_to, ask_at].every((one) => typeof one === "string" && URL.canParse(one));
    if (!Number.isSafeInteger(sum) || (sum as number) < 1 || !text(ref, 100) || !where)
      throw new Fault(400, "unreadable", "sum, ref, back_to or ask_at is malformed");
    const errand = openErrand(house, side, {
      ...{ account: account.id, ref, sum: sum as number, coin: coin as string },
      ...{ askAt: String(ask_at), goBackTo: String(back_to), language: String(tongue ?? "en") },
    });
    response.status(201).json(told(house, side, errand));
  });
  const errandOf = (request: Request): Errand => {
    const errand = errandsOf(house, side)[String(request.params.errand)];
    if (errand?.account !== seller(request).id)
      throw new Fault(404, "ask-unknown", "There is no such errand");
    return errand;
  };
  router.get(
    "/sellers/:id/errands/:errand",
    (request, response) => void response.json(told(house, side, errandOf(request))),
  );
  if (side === "sandbox")
    router.post("/sellers/:id/errands/:errand/thumb", async (request, response) => {
      const errand = errandOf(request);
      const { home, way, does } = request.body as { home?: string; way?: string; does?: string };
      if (home || way)
        await choose(house, asking, errand, { ...(home && { home }), ...(way && { choice: way }) });
      if (does === "refuse") errand.stand = "left";
      else if (does) {
        const known = deviceChoices(side).some((one) => one.does === does);
        if (!known || !isReady(errand))
          throw new Fault(409, "too-late", "That cannot be done with this errand now");
        errand.stand = "agreed";
        seal(house, side, errand, does);
      }
      house.changed();
      response.json(told(house, side, errand));
    });
}
