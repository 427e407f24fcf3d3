import Papa from "papaparse";
import { type Account, decimal, type House, randomText, type SideName } from "../../kit/house";

/** What Ostwick credited to an outlet's bank account on a day, with a file that says for what. */
export interface OutletStatement {
  no: string;
  account: string;
  coin: string;
  sum: number;
  day: string;
  lines: Line[];
}

interface Line {
  LINE: string;
  ORDER: string;
  YOURREF: string;
  TYPE: "PURCHASE" | "CREDIT";
  CURRENCY: string;
  GROSS: string;
  PAIDIN: string;
  FEE: string;
  NET: string;
}

interface Kept {
  statements: OutletStatement[];
  /** What of each order was credited and taken back so far. */
  settled: Record<string, { taken: number; back: number }>;
}

/** What an outlet's drawer keeps of statements. */
export function keptOf(house: House, side: SideName): Kept {
  const { drawer } = house.books(side);
  const empty: Kept = { statements: [], settled: {} };
  return Object.assign(drawer, { ...empty, ...drawer }) as unknown as Kept;
}

const rates: Record<string, number> = { "GBP EUR": 1.16 };
/** 0.95 percent and 12, in minor units. */
const feeOf = (sum: number) => Math.round((sum * 95) / 10_000) + 12;

/** Makes the day's statements of an outlet, one for each currency it is paid in; returns them. */
export function closeDay(house: House, side: SideName, account: Account): OutletStatement[] {
  const kept = keptOf(house, side);
  const byCoin = new Map<string, { lines: Line[]; sum: number }>();
  for (const bill of house.billsOf(side, account.id)) {
    const before = kept.settled[bill.no] ?? { taken: 0, back: 0 };
    const pays = account.coins.find((one) => one.coin === bill.coin)?.pays ?? bill.coin;
    const rate = bill.coin === pays ? 1 : (rates[`${bill.coin} ${pays}`] ?? 1);
    const add = (TYPE: Line["TYPE"], gross: number, fee: number) => {
      if (gross === 0) return;
      const day = byCoin.get(pays) ?? { lines: [], sum: 0 };
      byCoin.set(pays, day);
      const net = Math.round(gross * rate) - Math.round(fee * rate);
      day.sum += net;
      day.lines.push({
        ...{ LINE: `${bill.no}-${TYPE}-${bill.taken}-${bill.back}`, ORDER: bill.no, YOURREF: bill.ref, TYPE },
        ...{ CURRENCY: bill.coin, GROSS: decimal(gross, bill.coin), PAIDIN: pays },
        ...{ FEE: decimal(Math.round(fee * rate), pays), NET: decimal(net, pays) },
      });
    };
    const [taken, back] = [bill.taken - before.taken, bill.back - before.back];
    add("PURCHASE", taken, taken > 0 ? feeOf(taken) : 0);
    add("CREDIT", -back, 0);
    kept.settled[bill.no] = { taken: bill.taken, back: bill.back };
  }
  const made = [...byCoin].map(([coin, { lines, sum }]) => ({
    ...{ no: `OS${randomText(8).toUpperCase()}`, account: account.id, coin, sum, lines },
    day: house.now().toISOString(),
  }));
  kept.statements.push(...made);
  house.changed();
  return made;
}

/** A statement's file: semicolons between, a row for each line. */
export const fileOf = ({ lines }: OutletStatement): string => Papa.unparse(lines, { delimiter: ";" });
