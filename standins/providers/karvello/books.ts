import { type Card, cardsOf, networks } from "../../kit/cards";
import { type Account, type Bill, House, randomText, type SideName } from "../../kit/house";

/** What a server key may do beside making slips. */
export const allRights = ["bells", "give-back", "list"] as const;
export type Right = (typeof allRights)[number];

interface Key {
  account: string;
  key: string;
  at: string;
}
export interface ServerKey extends Key {
  rights: Right[];
}

/** What Karvello keeps beside what every house keeps. */
interface Drawer {
  serverKeys: ServerKey[];
  frameKeys: Key[];
  tokens: Record<string, { number: string; account: string; used: boolean }>;
  /** Cards that are kept for their holders' next time; with a mark, once they agreed to be charged without being there. */
  kept: Record<string, { number: string; account: string; ends?: string; mark?: string }>;
  /** What a slip says beyond its bill, by its number. */
  slips: Record<string, Slip>;
  sendings: Sending[];
  /** In which sending a taking, a giving back or a complaint is, by its number. */
  sent: Record<string, string>;
}

/** One line of a sending: `sum` in the slip's coin, `fee` and `net` in the sending's. */
export interface SendingLine {
  no: string;
  what: "taken" | "given_back" | "complaint";
  slip: string;
  your_ref: string;
  sum: number;
  coin: string;
  fee: number;
  net: number;
}

/** Money sent to a merchant's bank account. */
export interface Sending {
  no: string;
  account: string;
  coin: string;
  sum: number;
  stand: "booked" | "landed" | "bounced";
  day: string;
  lines: SendingLine[];
}

/** One taking, letting go or giving back of a slip. */
export interface Part {
  no: string;
  sum: number;
}

/** A card holder's complaint about a slip. */
export interface Complaint extends Part {
  round: number;
  stand: "open" | "answered" | "for_shop" | "for_holder";
  why: string;
  answer_by: string;
  /** When it last moved. */
  day: string;
  /** What was handed in with the shop's word. */
  papers?: string[];
}

/** What a slip says beyond its bill. */
export interface Slip {
  card: Card;
  statement: string;
  /** What the shop says of it beside that, as it was told. */
  told?: { mail?: string; items?: unknown[]; notes?: Record<string, string> };
  takeNow: boolean;
  /** Whether the card is to be kept once it was good, and under which number it is. */
  keep?: true;
  kept?: string;
  /** Whether its holder agreed to be charged again, and the network's mark of that. */
  again?: true;
  mark?: string;
  takes: Part[];
  let_go: Part[];
  backs: (Part & { stand: "done" | "under_way" | "came_to_nothing"; settlesAt: number | null })[];
  complaints: Complaint[];
  fees: (Part & { coin: string })[];
  watch: "looking" | "clear" | "stopped" | null;
  held_until: string | null;
  /** What came of asking the card holder, and who bears it when that was somebody else. */
  check: { how: "unasked" | "spared" | "shown" | "not_shown"; bears: "shop" | "holder_bank" };
}

const account = (
  side: SideName,
  number: string,
  rest: Pick<Account, "name" | "land" | "coins">,
): Account => ({
  id: `KV-${side === "sandbox" ? "S" : "L"}-${number}`,
  ...rest,
  review: "open",
  ways: Object.fromEntries(networks.map((network) => [network, true])),
  keys: {},
  address: "",
});

const accounts = (side: SideName): Account[] => [
  account(side, side === "sandbox" ? "207714" : "883102", {
    name: "Luvwinkel Drachenbau",
    land: "DE",
    coins: [
      { coin: "EUR", pays: "EUR" },
      { coin: "GBP", pays: "EUR" },
    ],
  }),
  account(side, side === "sandbox" ? "207790" : "883177", {
    name: "Luvwinkel Kites Ltd",
    land: "GB",
    coins: [{ coin: "GBP", pays: "GBP" }],
  }),
  // An account that has not been applied for on the live side.
  {
    ...account(side, side === "sandbox" ? "207802" : "883190", {
      name: "Luvwinkel Handel",
      land: "DE",
      coins: [{ coin: "EUR", pays: "EUR" }],
    }),
    ...(side === "live" && { review: "none" as const }),
  },
];

/** Opens a device wallet's token, as the networks do between them; a text says why it cannot be opened. */
export type OpensToken = (side: SideName, token: string, sum: number, coin: string) => Card | string;

/** Karvello's whole memory: both sides on one shelf. */
export class Karvello extends House {
  constructor(
    origin: () => string,
    file?: string,
    readonly opensToken: OpensToken = () => "This token is not known",
  ) {
    super("karvello", origin, accounts, file);
  }

  drawer(side: SideName): Drawer {
    const { drawer } = this.books(side);
    const empty: Drawer = {
      serverKeys: [],
      frameKeys: [],
      tokens: {},
      kept: {},
      slips: {},
      sendings: [],
      sent: {},
    };
    return Object.assign(drawer, { ...empty, ...drawer }) as unknown as Drawer;
  }

  issue(side: SideName, account: string, kind: "server" | "frame", rights: Right[] = [...allRights]): string {
    const letter = side === "sandbox" ? "s" : "l";
    const key = kind === "server" ? `kvs.${letter}.${randomText(32)}` : `kvf.${letter}.${randomText(20)}`;
    const at = this.now().toISOString();
    if (kind === "server") this.drawer(side).serverKeys.push({ account, key, at, rights });
    else this.drawer(side).frameKeys.push({ account, key, at });
    this.changed();
    return key;
  }

  takes = (side: SideName, account: string, network: string | undefined): boolean =>
    network !== undefined && this.account(side, account)?.ways[network] === true;

  cards = (side: SideName): Card[] => cardsOf(side === "sandbox" ? "00" : "77");

  slipOf(side: SideName, bill: Bill) {
    const slip = this.drawer(side).slips[bill.no];
    if (!slip) throw new Error(`slip ${bill.no} has no card`);
    // A slip from before parts were counted has them as its bill's sums say.
    const part = (sum: number, letter: string) => (sum > 0 ? [{ no: `${bill.no}${letter}1`, sum }] : []);
    slip.takes ??= part(bill.taken, "T");
    slip.let_go ??= [];
    slip.backs ??= part(bill.back, "B").map((one) => ({ ...one, stand: "done", settlesAt: null }));
    slip.complaints ??= [];
    slip.fees ??= [];
    slip.watch ??= null;
    slip.held_until ??= null;
    return slip;
  }
}
