import { createHash, generateKeyPairSync, randomBytes, sign } from "node:crypto";
import { type Account, type Bill, decimal, type House, randomText, type SideName } from "../../kit/house";
import type { Manner } from "../../kit/dashboard";
import type { Post } from "../../kit/notes";

export const manner: Manner = {
  title: "Pennywhistle",
  says: "a wallet that shoppers keep money in",
  password: "drei-toene-tief",
  colours: ["#eef4f8", "#10283a", "#16557d"],
  face: "Verdana,sans-serif",
  bills: "Purchases",
  words: { sandbox: "Practice", live: "Stage" },
};

const merchant = (
  side: SideName,
  number: number,
  rest: Pick<Account, "name" | "land" | "coins" | "ways" | "review">,
): Account => ({
  id: `${side === "sandbox" ? "PRAC" : "STAG"}-${4100 + number * 37}`,
  ...rest,
  keys: {},
  address: "",
});
export const merchants = (side: SideName): Account[] => [
  merchant(side, 1, {
    name: "Luvwinkel Drachenbau",
    land: "DE",
    coins: [
      { coin: "EUR", pays: "EUR" },
      { coin: "GBP", pays: "EUR" },
    ],
    ways: { wallet: true, later: false },
    review: "open",
  }),
  merchant(side, 2, {
    name: "Luvwinkel Kites Ltd",
    land: "GB",
    coins: [{ coin: "GBP", pays: "GBP" }],
    ways: { wallet: true, later: true },
    review: side === "live" ? "none" : "open",
  }),
];

/** A payer's standing word to a merchant: purchases that use it are agreed to without asking again. */
export interface Standing {
  account: string;
  purse: string;
  /** What becomes of purchases that the merchant makes by itself. */
  later: "agreed" | "empty" | "asks";
}

export const shownAs = (purse: string): string => `Purse …${purse}`;

/** What Pennywhistle keeps beside accounts and purchases. */
export interface Drawer {
  /** Programs with access: client id → merchant, secret, how it came, whether it was withdrawn. */
  clients: Record<string, { merchant: string; secret: string; by: "hand" | "link"; withdrawn: boolean }>;
  tokens: Record<string, { client: string; until: number }>;
  codes: Record<string, { merchant: string; challenge: string; returnTo: string; until: number }>;
  /** Standing words that payers gave, by their ids; and what of one a purchase asked for and was given. */
  standings: Record<string, Standing>;
  said: Record<string, { asked: true; given?: string }>;
  /** Keys that messages are signed with; the last one signs. */
  keys: { kid: string; jwk: Record<string, string>; pem: string }[];
}

export function drawerOf(house: House, side: SideName): Drawer {
  const drawer = house.books(side).drawer as unknown as Drawer;
  drawer.clients ??= {};
  drawer.tokens ??= {};
  drawer.codes ??= {};
  drawer.standings ??= {};
  drawer.said ??= {};
  drawer.keys ??= [newKey()];
  return drawer;
}

export function newKey(): Drawer["keys"][number] {
  const { privateKey, publicKey } = generateKeyPairSync("ec", { namedCurve: "P-256" });
  const jwk = publicKey.export({ format: "jwk" }) as Record<string, string>;
  const kid = randomText(8);
  return {
    kid,
    jwk: { ...jwk, kid, use: "sig", alg: "ES256" },
    pem: privateKey.export({ format: "pem", type: "pkcs8" }).toString(),
  };
}

export function newClient(house: House, side: SideName, merchantId: string, by: "hand" | "link") {
  const id = `${side === "sandbox" ? "prac" : "stag"}.${randomText(14)}`;
  const secret = `pennies-${side === "sandbox" ? "p" : "s"}-${randomText(36)}`;
  drawerOf(house, side).clients[id] = { merchant: merchantId, secret, by, withdrawn: false };
  house.changed();
  return { id, secret };
}

/** A detached JWS over the body, payload unencoded (RFC 7515 appendix F, RFC 7797). */
export function detachedJws(key: Drawer["keys"][number], id: string, at: Date, body: string): string {
  const header = {
    alg: "ES256",
    kid: key.kid,
    b64: false,
    crit: ["b64"],
    iat: Math.floor(at.getTime() / 1000),
    jti: id,
  };
  const head = Buffer.from(JSON.stringify(header)).toString("base64url");
  const signature = sign("sha256", Buffer.from(`${head}.${body}`), {
    key: key.pem,
    dsaEncoding: "ieee-p1363",
  });
  return `${head}..${signature.toString("base64url")}`;
}

export const challengeOf = (verifier: string) => createHash("sha256").update(verifier).digest("base64url");
export const randomCode = () => randomBytes(24).toString("base64url");

const phases: Record<Bill["stand"], string> = {
  open: "awaiting_payer",
  weighing: "awaiting_payer",
  held: "reserved",
  paid: "completed",
  refused: "refused",
  broken: "broken",
  dropped: "called_off",
  left: "left",
  lapsed: "left",
};
/** A purchase as Pennywhistle writes it: amounts as decimal text with their currency. */
export function purchase(house: House, side: SideName, bill: Bill) {
  const { said, standings } = drawerOf(house, side);
  const given = said[bill.no]?.given ?? "";
  const money = (sum: number) => ({ value: decimal(sum, bill.coin), currency: bill.coin });
  return {
    id: bill.no,
    your_reference: bill.ref,
    amount: money(bill.sum),
    phase: bill.back === 0 ? phases[bill.stand] : bill.back < bill.taken ? "partly_returned" : "returned",
    reserved: money(bill.held),
    completed: money(bill.taken),
    returned: money(bill.back),
    revision: bill.turn ?? 1,
    refusal: bill.refusal,
    standing: standings[given] ? { id: given, shown_as: shownAs(standings[given].purse) } : null,
    agree_at: bill.stand === "open" ? house.address(side, `/agree/${bill.no}`) : null,
  };
}

/** Tells every hook of the merchant that a purchase moved. */
export function tell(post: Post, house: House, side: SideName, bill: Bill) {
  bill.movedAt = house.now().toISOString();
  bill.turn = (bill.turn ?? 1) + 1;
  for (const hook of house.books(side).hooks.filter((one) => one.account === bill.account))
    post.send(side, bill.account, hook.to, "purchase.changed", { purchase: purchase(house, side, bill) });
  house.changed();
}
