/** What a card does when it is charged. */
export type CardManner =
  | "good"
  | "short"
  | "expired"
  | "code"
  | "fraud"
  | "no"
  | "ask"
  | "error"
  | "slow-back"
  | "no-back"
  | "watched"
  | "short-later"
  | "asks-later";

export interface Card {
  number: string;
  network: "Norda" | "Celesta" | "Umbra";
  manner: CardManner;
  says: string;
  token: string;
}

/** ISO/IEC 7812 check digit. */
export function luhnHolds(digits: string): boolean {
  let sum = 0;
  for (let i = 0; i < digits.length; i++) {
    let digit = Number(digits[digits.length - 1 - i]);
    if (i % 2 === 1) digit = digit > 4 ? digit * 2 - 9 : digit * 2;
    sum += digit;
  }
  return /^\d+$/.test(digits) && sum % 10 === 0;
}

const complete = (stem: string) => {
  for (let check = 0; check < 10; check++) if (luhnHolds(stem + check)) return stem + check;
  throw new Error("no check digit");
};

/**
 * The networks' ranges begin with 9 and a country number from 900 to 999, which ISO 3166-1 leaves to users:
 * no real network issues there. Fifth and sixth digit tell whose cards they are: Karvello has 00 in the sandbox and
 * 77 on the live side, Ostwick 01 and 78, Thumbra's devices 02 and 79.
 */
const prefix = { Norda: "9901", Celesta: "9902", Umbra: "9903" };
const manners: [Card["network"], CardManner, string, string][] = [
  ["Norda", "good", "approved", "approved"],
  ["Norda", "short", "declined: insufficient funds", "short"],
  ["Norda", "expired", "declined: expired card", "expired"],
  ["Norda", "code", "declined: wrong code", "code"],
  ["Norda", "fraud", "declined: suspected fraud", "fraud"],
  ["Norda", "no", "declined: do not honour", "no"],
  ["Norda", "ask", "the issuer asks who you are", "ask"],
  ["Norda", "error", "a processing error", "error"],
  ["Celesta", "good", "approved", "celesta"],
  ["Umbra", "good", "approved", "umbra"],
  ["Norda", "slow-back", "approved; what is given back takes its time", "slow-back"],
  ["Norda", "no-back", "approved; what is given back comes to nothing", "no-back"],
  ["Norda", "watched", "approved, and looked at for misuse", "watched"],
  ["Norda", "short-later", "approved; declined whenever it is charged without its holder", "short-later"],
  ["Norda", "asks-later", "approved; without its holder the issuer wants to ask them first", "asks-later"],
];

export const cardsOf = (range: "00" | "77" | "01" | "78" | "02" | "79"): Card[] =>
  manners.map(([network, manner, says, name], i) => ({
    number: complete(`${prefix[network]}${range}00000${String(i + 1).padStart(4, "0")}`),
    network,
    manner,
    says,
    token: `play-${name}`,
  }));

export const networks = Object.keys(prefix) as Card["network"][];
export const networkOf = (number: string) => networks.find((name) => number.startsWith(prefix[name]));
