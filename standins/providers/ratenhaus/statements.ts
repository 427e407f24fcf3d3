import { XMLBuilder } from "fast-xml-parser";
import { type Account, decimal, type House, randomText, type SideName } from "../../kit/house";

/** What Ratenhaus sent to a house's bank account, with what it was for. */
export interface Sent {
  no: string;
  account: string;
  sum: number;
  day: string;
  entries: Entry[];
}

interface Entry {
  no: string;
  plan: string;
  order: string;
  what: "PLAN" | "RETURN";
  gross: number;
  fee: number;
}

/** What a side's drawer keeps of statements. */
export function sentOf(house: House, side: SideName) {
  const { drawer } = house.books(side);
  return (drawer.sent ??= { list: [], settled: {} }) as {
    list: Sent[];
    settled: Record<string, { taken: number; back: number }>;
  };
}

/** 3.9 percent and 49, at least 250; what is returned costs 95. Minor units. */
const feeOf = (sum: number) => Math.max(Math.round(sum * 0.039) + 49, 250);
const RETURNING = 95;

/** Sends a house all that it is owed; null where that is nothing. */
export function payOut(house: House, side: SideName, { id }: Account): Sent | null {
  const kept = sentOf(house, side);
  const entries: Entry[] = [];
  for (const bill of house.billsOf(side, id)) {
    const before = kept.settled[bill.no] ?? { taken: 0, back: 0 };
    const [taken, back] = [bill.taken - before.taken, bill.back - before.back];
    const add = (what: Entry["what"], gross: number, fee: number) =>
      entries.push({
        no: `${bill.no}-${bill.taken}-${bill.back}-${what}`,
        plan: bill.no,
        order: bill.ref,
        what,
        gross,
        fee,
      });
    if (taken > 0) add("PLAN", taken, feeOf(taken));
    if (back > 0) add("RETURN", -back, RETURNING);
    kept.settled[bill.no] = { taken: bill.taken, back: bill.back };
  }
  if (entries.length === 0) return null;
  const sum = entries.reduce((all, { gross, fee }) => all + gross - fee, 0);
  const made = { no: `RS${randomText(8)}`, account: id, sum, day: house.now().toISOString(), entries };
  kept.list.push(made);
  house.changed();
  return made;
}

const euros = (sum: number) => ({ "@Ccy": "EUR", "#text": decimal(Math.abs(sum), "EUR") });
const side = (sum: number) => (sum < 0 ? "DBIT" : "CRDT");

/** A statement as banks write one: bank-to-customer statement, ISO 20022 camt.053.001.08. */
export function statementOf({ no, account, sum, day, entries }: Sent): string {
  const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: "@", format: true });
  return builder.build({
    "?xml": { "@version": "1.0", "@encoding": "UTF-8" },
    Document: {
      "@xmlns": "urn:iso:std:iso:20022:tech:xsd:camt.053.001.08",
      BkToCstmrStmt: {
        GrpHdr: { MsgId: no, CreDtTm: day },
        Stmt: {
          Id: no,
          CreDtTm: day,
          Acct: { Id: { Othr: { Id: account } }, Ccy: "EUR" },
          Bal: {
            ...{ Tp: { CdOrPrtry: { Cd: "CLBD" } }, Amt: euros(sum), CdtDbtInd: side(sum) },
            Dt: { DtTm: day },
          },
          Ntry: entries.map(({ no: entry, plan, order, what, gross, fee }) => ({
            ...{ NtryRef: entry, Amt: euros(gross - fee), CdtDbtInd: side(gross - fee), Sts: { Cd: "BOOK" } },
            BookgDt: { DtTm: day },
            BkTxCd: { Prtry: { Cd: what, Issr: "Ratenhaus" } },
            AmtDtls: { InstdAmt: { Amt: euros(gross) } },
            Chrgs: { TtlChrgsAndTaxAmt: euros(fee) },
            NtryDtls: { TxDtls: { Refs: { AcctSvcrRef: plan, EndToEndId: order } } },
          })),
        },
      },
    },
  });
}
