import { randomBytes } from "node:crypto";
import { Shelf } from "../../server";
import { type Card, cardsOf, networks } from "../../kit/cards";
import { type SideName, sides } from "../../kit/house";

export type { SideName } from "../../kit/house";

/** A payment as Karvello keeps it. Sums in minor units. */
export interface Slip {
  no: string;
  your_ref: string;
  sum: number;
  coin: string;
  stand:
    | "asking"
    | "held"
    | "taken"
    | "part_taken"
    | "dropped"
    | "turned_down"
    | "broken"
    | "part_given_back"
    | "given_back";
  held: number;
  taken: number;
  given_back: number;
  refusal: { code: string; text: string } | null;
  ask_at: string | null;
  card: { network: string; last: string };
  statement: string;
  made_at: string;
  moved_at: string;
}

/** What Karvello keeps of a slip and tells nobody. */
export interface SlipBack {
  account: string;
  takeNow: boolean;
  manner: Card["manner"];
  goBackTo: string | null;
}

export interface Bell {
  id: string;
  account: string;
  address: string;
  tells: string[];
  secret: string;
}

/** One message on its way to a bell's address. */
export interface Ring {
  id: string;
  bell: string;
  tell: string;
  body: string;
  tries: number;
  nextAt: number;
  log: string[];
  done: boolean;
}

export interface Account {
  code: string;
  trading_as: string;
  home: string;
  coins: { coin: string; pays_out_in: string }[];
  networks: { network: string; on: boolean }[];
  open_for_business: boolean;
  closed_because: string | null;
  /** How far Karvello's look at the business has come. */
  review: "none" | "applied" | "looking" | "open" | "turned_down" | "limited";
}

/** What a server key may do beside making slips. */
export const allRights = ["bells", "give-back", "list"] as const;
export type Right = (typeof allRights)[number];

export interface ServerKey {
  account: string;
  key: string;
  at: string;
  rights: Right[];
}

/** One side's books. The two sides share nothing. */
export interface Books {
  accounts: Account[];
  serverKeys: ServerKey[];
  frameKeys: { account: string; key: string; at: string }[];
  slips: Record<string, Slip>;
  backs: Record<string, SlipBack>;
  onces: Record<string, { no: string; body: string }>;
  tokens: Record<string, { number: string; account: string; used: boolean }>;
  bells: Bell[];
  rings: Ring[];
}

const allOn = () => networks.map((network) => ({ network, on: true }));
const account = (
  side: SideName,
  number: string,
  rest: Omit<Account, "code" | "networks" | "open_for_business" | "closed_because" | "review">,
): Account => ({
  code: `KV-${side === "sandbox" ? "S" : "L"}-${number}`,
  networks: allOn(),
  open_for_business: true,
  closed_because: null,
  review: "open",
  ...rest,
});

const emptyBooks = (side: SideName): Books => ({
  accounts: [
    account(side, side === "sandbox" ? "207714" : "883102", {
      trading_as: "Luvwinkel Drachenbau",
      home: "DE",
      coins: [
        { coin: "EUR", pays_out_in: "EUR" },
        { coin: "GBP", pays_out_in: "EUR" },
      ],
    }),
    account(side, side === "sandbox" ? "207790" : "883177", {
      trading_as: "Luvwinkel Kites Ltd",
      home: "GB",
      coins: [{ coin: "GBP", pays_out_in: "GBP" }],
    }),
    // An account that has not been applied for on the live side.
    {
      ...account(side, side === "sandbox" ? "207802" : "883190", {
        trading_as: "Luvwinkel Handel",
        home: "DE",
        coins: [{ coin: "EUR", pays_out_in: "EUR" }],
      }),
      ...(side === "live" && {
        open_for_business: false,
        closed_because: "Nobody has applied for this account",
        review: "none" as const,
      }),
    },
  ],
  serverKeys: [],
  frameKeys: [],
  slips: {},
  backs: {},
  onces: {},
  tokens: {},
  bells: [],
  rings: [],
});

const alphabet = "abcdefghjkmnpqrstuvwxyz23456789";
export const randomText = (length: number) =>
  [...randomBytes(length)].map((byte) => alphabet[byte % alphabet.length]).join("");

export type OpensToken = (side: SideName, token: string, sum: number, coin: string) => Card | string;

/** Karvello's whole memory: both sides on one shelf. */
export class Karvello {
  readonly shelf: Shelf<Record<SideName, Books>>;

  constructor(
    readonly origin: () => string,
    file?: string,
    /** Opens a device wallet's token, as the networks do between them. */
    readonly opensToken: OpensToken = () => "This token is not known",
  ) {
    this.shelf = new Shelf(file, () => ({ sandbox: emptyBooks("sandbox"), live: emptyBooks("live") }));
    // Books written before networks could be switched: all were on.
    for (const side of sides) for (const account of this.books(side).accounts) account.networks ??= allOn();
  }

  now() {
    return Date.now();
  }

  books(side: SideName) {
    return this.shelf.state[side];
  }

  issue(side: SideName, account: string, kind: "server" | "frame", rights: Right[] = [...allRights]): string {
    const letter = side === "sandbox" ? "s" : "l";
    const key = kind === "server" ? `kvs.${letter}.${randomText(32)}` : `kvf.${letter}.${randomText(20)}`;
    const at = new Date(this.now()).toISOString();
    if (kind === "server") this.books(side).serverKeys.push({ account, key, at, rights });
    else this.books(side).frameKeys.push({ account, key, at });
    this.shelf.changed();
    return key;
  }

  takes(side: SideName, account: string, network: string | undefined): boolean {
    const found = this.books(side).accounts.find((one) => one.code === account);
    return found?.networks.some((one) => one.on && one.network === network) ?? false;
  }

  cards(side: SideName): Card[] {
    return cardsOf(side === "sandbox" ? "00" : "77");
  }
}
