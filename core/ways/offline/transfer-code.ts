import { decimalText, type Money } from "../../money/money";
import { type BankAccount, isCreditorReference, isInSepa } from "./bank";

/** What a code may hold at most, bytes (EPC069-12). */
const MOST_BYTES = 331;
const MOST_AMOUNT = 99_999_999_999;

/**
 * What a banking app reads from a code to fill in a SEPA credit transfer: the text of EPC069-12, version 002, in UTF-8.
 * Null where such a code cannot say it: another currency than the euro, an account outside SEPA, an amount out of its range.
 */
export function transferCode(
  { holder, iban, bic }: BankAccount,
  { amount, currency }: Money,
  reference: string,
): string | null {
  if (currency !== "EUR" || !isInSepa(iban) || amount < 1 || amount > MOST_AMOUNT) return null;
  const structured = isCreditorReference(reference);
  const lines = [
    ...["BCD", "002", "1", "SCT", bic],
    oneLine(holder, 70),
    ...[iban, `EUR${decimalText({ amount, currency })}`, ""],
    structured ? reference : "",
    ...(structured ? [] : [oneLine(reference, 140)]),
  ];
  const text = lines.join("\n");
  return new TextEncoder().encode(text).length <= MOST_BYTES ? text : null;
}

const oneLine = (text: string, most: number): string => text.replace(/\s+/g, " ").trim().slice(0, most);
