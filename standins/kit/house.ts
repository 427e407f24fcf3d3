import { randomBytes } from "node:crypto";
import { Shelf } from "../server";
import type { SideName } from "./weather";

export type { SideName } from "./weather";
export const sides: readonly SideName[] = ["sandbox", "live"];

export const reviewSteps = ["none", "applied", "looking", "open", "turned_down", "limited"] as const;
export type Review = (typeof reviewSteps)[number];

/** A merchant's account on one side. `keys` are the values that its dashboard shows. */
export interface Account {
  id: string;
  name: string;
  land: string;
  coins: { coin: string; pays: string }[];
  review: Review;
  /** Ways to pay that are switched on. */
  ways: Record<string, boolean>;
  keys: Record<string, string>;
  /** Where news goes, for providers that have one address each. */
  address: string;
}

/** A payment in a provider's books; sums in minor units. Each provider has its own words for `stand` on the wire. */
export interface Bill {
  no: string;
  account: string;
  ref: string;
  sum: number;
  coin: string;
  stand: "open" | "weighing" | "held" | "paid" | "refused" | "broken" | "dropped" | "left" | "lapsed";
  held: number;
  taken: number;
  back: number;
  refusal: string | null;
  takeNow: boolean;
  goBackTo: string | null;
  /** What the shop wants to be called on the page; its account's name where it does not say. */
  shownAs?: string;
  way: string;
  madeAt: string;
  movedAt: string;
  /** Counts how often it has moved. */
  turn: number;
}

/** A message on its way, as it was said; it is signed anew at each try. */
export interface Note {
  id: string;
  account: string;
  to: string;
  kind: string;
  content: Record<string, unknown>;
  tries: number;
  nextAt: number;
  done: boolean;
  spoilt: boolean;
  log: string[];
}

export interface Hook {
  id: string;
  account: string;
  to: string;
  kinds: string[];
  /** What its messages are signed with, where each address has a secret of its own. */
  secret?: string;
}

export interface Books {
  accounts: Account[];
  bills: Record<string, Bill>;
  notes: Note[];
  hooks: Hook[];
  /** Idempotency keys with what they did. */
  onces: Record<string, { no: string; said: string }>;
  /** Whatever else one provider keeps. */
  drawer: Record<string, unknown>;
}

const alphabet = "abcdefghjkmnpqrstuvwxyz23456789";
export const randomText = (length: number) =>
  [...randomBytes(length)].map((byte) => alphabet[byte % alphabet.length]).join("");

/** One simulated provider's whole memory: both sides on one shelf. */
export class House {
  readonly shelf: Shelf<Record<SideName, Books>>;

  constructor(
    readonly name: string,
    readonly origin: () => string,
    accounts: (side: SideName) => Account[],
    file?: string,
  ) {
    const empty = (side: SideName): Books => ({
      accounts: accounts(side),
      bills: {},
      notes: [],
      hooks: [],
      onces: {},
      drawer: {},
    });
    this.shelf = new Shelf(file, () => ({ sandbox: empty("sandbox"), live: empty("live") }));
  }

  now = () => new Date();
  books = (side: SideName) => this.shelf.state[side];
  changed = () => this.shelf.changed();
  address = (side: SideName, path = "") => `${this.origin()}/${this.name}/${side}${path}`;

  account = (side: SideName, id: string) => this.books(side).accounts.find((one) => one.id === id);
  /** An account's bills as they were made; where a reference is asked for, those of it. */
  billsOf(side: SideName, account: string, ref?: unknown): Bill[] {
    if (ref !== undefined && ref !== "") return this.billsFor(side, account, ref);
    return Object.values(this.books(side).bills).filter((one) => one.account === account);
  }
  /** An account's bills of one reference, found without a walk over all. */
  billsFor(side: SideName, account: string, ref: unknown): Bill[] {
    return this.#byRef(side).get(`${account} ${String(ref)}`) ?? [];
  }
  readonly #refs: Partial<Record<SideName, Map<string, Bill[]>>> = {};
  #byRef(side: SideName): Map<string, Bill[]> {
    let refs = this.#refs[side];
    if (refs) return refs;
    this.#refs[side] = refs = new Map();
    for (const bill of Object.values(this.books(side).bills)) this.#file(refs, bill);
    return refs;
  }
  #file(refs: Map<string, Bill[]>, bill: Bill) {
    const key = `${bill.account} ${bill.ref}`;
    const there = refs.get(key);
    if (there) there.push(bill);
    else refs.set(key, [bill]);
  }

  open(
    side: SideName,
    bill: Pick<Bill, "account" | "ref" | "sum" | "coin" | "takeNow" | "goBackTo" | "shownAs" | "way">,
    no: string,
  ): Bill {
    const at = this.now().toISOString();
    const made: Bill = {
      ...bill,
      no,
      stand: "open",
      held: 0,
      taken: 0,
      back: 0,
      refusal: null,
      madeAt: at,
      movedAt: at,
      turn: 1,
    };
    this.#file(this.#byRef(side), made);
    this.books(side).bills[no] = made;
    this.changed();
    return made;
  }
}

/** Why a bill cannot do what was asked. */
export type Cannot = "wrong-state" | "too-much";

/** Moves a bill. Returns why not, or undefined. */
export const moves = {
  grant(bill: Bill): Cannot | undefined {
    if (bill.stand !== "open" && bill.stand !== "weighing") return "wrong-state";
    bill.held = bill.sum;
    bill.taken = bill.takeNow ? bill.sum : 0;
    bill.stand = bill.takeNow ? "paid" : "held";
    return undefined;
  },
  refuse(bill: Bill, refusal: string): Cannot | undefined {
    if (bill.stand !== "open" && bill.stand !== "weighing") return "wrong-state";
    bill.stand = "refused";
    bill.refusal = refusal;
    return undefined;
  },
  end(bill: Bill, stand: "broken" | "left" | "lapsed"): Cannot | undefined {
    if (bill.stand !== "open" && bill.stand !== "weighing") return "wrong-state";
    bill.stand = stand;
    return undefined;
  },
  take(bill: Bill, sum: number): Cannot | undefined {
    if (bill.stand !== "held") return "wrong-state";
    if (sum > bill.held) return "too-much";
    bill.taken = sum;
    bill.stand = "paid";
    return undefined;
  },
  drop(bill: Bill): Cannot | undefined {
    if (!["open", "weighing", "held"].includes(bill.stand)) return "wrong-state";
    bill.stand = "dropped";
    return undefined;
  },
  giveBack(bill: Bill, sum: number): Cannot | undefined {
    if (bill.stand !== "paid") return "wrong-state";
    if (bill.back + sum > bill.taken) return "too-much";
    bill.back += sum;
    return undefined;
  },
};

const places: Record<string, number> = { JPY: 0, EUR: 2, GBP: 2 };
/** Decimal text of minor units, and back; null when it is none of that currency. */
export const decimal = (sum: number, coin: string) =>
  (sum / 10 ** (places[coin] ?? 2)).toFixed(places[coin] ?? 2);
export function fromDecimal(text: unknown, coin: string): number | null {
  const digits = places[coin] ?? 2;
  const match = typeof text === "string" ? /^(\d{1,12})(?:\.(\d+))?$/.exec(text) : null;
  if (!match || (match[2]?.length ?? 0) > digits) return null;
  return Number(`${match[1]}${(match[2] ?? "").padEnd(digits, "0")}`);
}
