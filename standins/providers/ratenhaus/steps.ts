import { type Bill, type Cannot, type House, moves, type SideName } from "../../kit/house";

/** Until when a house may confirm what its buyer has signed, milliseconds. */
const CONFIRMED_WITHIN = 1_800_000;

/** Plans that their house wants to confirm itself: whether the buyer has signed, and when. */
const stepsOf = (house: House, side: SideName) =>
  (house.books(side).drawer.steps ??= {}) as Record<string, { signedAt: number | null }>;

export const confirmsItself = (house: House, side: SideName, bill: Bill) => {
  stepsOf(house, side)[bill.no] ??= { signedAt: null };
};

export const waitsForHouse = (house: House, side: SideName, { no, stand }: Bill): boolean =>
  stand === "weighing" && stepsOf(house, side)[no]?.signedAt != null;

/** What a signature brings: the plan, or that its house is waited for. */
export function granted(house: House, side: SideName, bill: Bill): Cannot | undefined {
  const step = stepsOf(house, side)[bill.no];
  if (!step) return moves.grant(bill);
  if (bill.stand !== "open" && bill.stand !== "weighing") return "wrong-state";
  step.signedAt ??= house.now().getTime();
  bill.stand = "weighing";
  return undefined;
}

/** The house confirms. What it left lying for too long has lapsed. */
export function confirm(house: House, side: SideName, bill: Bill): Cannot | undefined {
  const signedAt = stepsOf(house, side)[bill.no]?.signedAt;
  if (!waitsForHouse(house, side, bill) || signedAt == null) return "wrong-state";
  if (house.now().getTime() - signedAt <= CONFIRMED_WITHIN) return moves.grant(bill);
  moves.end(bill, "lapsed");
  return "wrong-state";
}
