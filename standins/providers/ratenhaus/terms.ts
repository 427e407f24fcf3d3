import { decimal, type House, type SideName } from "../../kit/house";

/** Over how many months the house lends, and what it wants for it. */
const terms = [
  { months: 3, share: 1, yearly: 0 },
  { months: 12, share: 1.06, yearly: 11.6 },
] as const;
export type Months = (typeof terms)[number]["months"];

/** What a sum comes to over each of the house's terms, decimal euros. */
export const quotesFor = (sum: number) =>
  terms.map(({ months, share, yearly }) => {
    const instalment = Math.ceil((sum * share) / months);
    return {
      months,
      instalment: decimal(instalment, "EUR"),
      comes_to: decimal(instalment * months, "EUR"),
      ...{ yearly, every: "month", first_after_days: 30 },
    };
  });

const monthsOf = (house: House, side: SideName): Record<string, Months> =>
  (house.books(side).drawer.months ??= {}) as Record<string, Months>;

/** What a buyer signed for; null before that. */
export const signedFor = (house: House, side: SideName, no: string, sum: number) =>
  quotesFor(sum).find(({ months }) => months === monthsOf(house, side)[no]) ?? null;

export function signFor(house: House, side: SideName, no: string, months: Months): void {
  monthsOf(house, side)[no] = months;
}

/** What the house wants to be read wherever its plans are spoken of. */
export const toBeRead = {
  de: "Ein Beispiel im Sinn des Gesetzes über Verbraucherkredite. Gläubigerin ist das Ratenhaus in Luvhafen. Der Sollzins ist für die ganze Laufzeit gebunden; die Bonität wird geprüft.",
  en: "A representative example as consumer credit law wants it. The creditor is Ratenhaus, Luvhafen. The borrowing rate is fixed for the whole term; whoever applies is looked at first.",
};
