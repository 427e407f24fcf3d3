import { type House, type SideName } from "../../kit/house";
import { Fault } from "../../kit/provider";

/** What a plan is for, as the shop told it. */
export interface Goods {
  what: string;
  pieces: number;
  sum: string;
}

/** What each plan of a side is for, by its number. */
export function goodsOf(house: House, side: SideName): Record<string, Goods[]> {
  const { drawer } = house.books(side);
  return (drawer.goods ??= {}) as Record<string, Goods[]>;
}

/** Where the buyer of each plan lives, and as whom the shop knows them, as far as it told. */
export function homesOf(house: House, side: SideName): Record<string, string> {
  const { drawer } = house.books(side);
  return (drawer.homes ??= {}) as Record<string, string>;
}

/** Where a buyer lives, in one line: texts, of which only the land must be there. */
export function homeFrom(told: unknown, knownAs: unknown): string {
  const refuse = () => new Fault(400, "RH-01", "lives_at is malformed");
  const { name, street, code, town, land } = (told ?? {}) as Record<string, unknown>;
  const said = [name, street, code, town, land, knownAs].filter((one) => one !== undefined && one !== null);
  if (told !== undefined && typeof land !== "string") throw refuse();
  if (!said.every((one): one is string => typeof one === "string" && one.length <= 600)) throw refuse();
  return said.join(", ");
}

/** A lender wants to know what it lends for: a list of what, how many and for how much. */
export function goodsFrom(told: unknown): Goods[] {
  if (told === undefined || (Array.isArray(told) && told.length === 0))
    throw new Fault(422, "RH-02", "goods are needed: nothing is lent for nothing");
  const refuse = () => new Fault(400, "RH-01", "goods are malformed");
  if (!Array.isArray(told) || told.length > 500) throw refuse();
  return told.map((one: Partial<Goods> | null) => {
    const { what, pieces, sum } = one ?? {};
    const isWhole = typeof what === "string" && typeof pieces === "number" && pieces > 0;
    if (!isWhole || typeof sum !== "string" || !/^-?\d{1,9}(\.\d{1,2})?$/.test(sum)) throw refuse();
    return { what: what.slice(0, 200), pieces, sum };
  });
}
