import { electronicFormatIBAN, friendlyFormatIBAN, isSEPACountry, isValidBIC, isValidIBAN } from "ibantools";

/** An account that shoppers transfer to. */
export interface BankAccount {
  holder: string;
  /** ISO 13616, without spaces. */
  iban: string;
  /** ISO 9362; empty where none is needed. */
  bic: string;
  bank: string;
}

/** An IBAN as it is kept: upper case, without spaces and dashes. Null when its country, length or check digits are wrong. */
export function readIban(text: string): string | null {
  const iban = electronicFormatIBAN(text.trim().toUpperCase());
  return iban !== null && isValidIBAN(iban) ? iban : null;
}

/** A business identifier code (ISO 9362) in upper case; null when it is none. */
export function readBic(text: string): string | null {
  const bic = text.replace(/\s/g, "").toUpperCase();
  return isValidBIC(bic) ? bic : null;
}

/** An IBAN in groups of four, as people read it. */
export const ibanWords = (iban: string): string => friendlyFormatIBAN(iban) ?? iban;

export const isInSepa = (iban: string): boolean => isSEPACountry(iban.slice(0, 2));

const MOST = 21;

/** Letters as digits for the check by ISO/IEC 7064, MOD 97-10: A is 10, Z is 35. */
function remainder(text: string): number {
  let rest = 0;
  for (const letter of text) {
    const value = parseInt(letter, 36);
    rest = (rest * (value > 9 ? 100 : 10) + value) % 97;
  }
  return rest;
}

/**
 * A structured creditor reference (ISO 11649) of an order's reference: its letters and digits behind RF and two check digits.
 * Null where nothing is left of it, or more than 21 characters.
 */
export function creditorReference(reference: string): string | null {
  const text = reference.toUpperCase().replace(/[^0-9A-Z]/g, "");
  if (text === "" || text.length > MOST) return null;
  return `RF${String(98 - remainder(`${text}RF00`)).padStart(2, "0")}${text}`;
}

/** Whether a text is a creditor reference whose check digits are right. */
export const isCreditorReference = (text: string): boolean =>
  /^RF\d{2}[0-9A-Z]{1,21}$/.test(text) && remainder(text.slice(4) + text.slice(0, 4)) === 1;
