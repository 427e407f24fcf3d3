import { randomBytes } from "node:crypto";
import { Webhook } from "standardwebhooks";
import { Shelf } from "../server";
import { type BranchId, branchOf, decimal, type Language, minorOf, priceIn } from "./branches";
import { type Delivery, goodIn, goods, SHIPPING, taxIn } from "./goods";

export type Mode = "test" | "live";

export interface ShopOrder {
  no: string;
  at: string;
  mode: Mode;
  /** In which of the shops it was ordered; left out, in the first. */
  branch?: BranchId;
  currency?: string;
  /** The group of shoppers that whoever ordered belongs to, and who they are. */
  group?: string;
  shopper?: string;
  /** Amounts in minor units of the currency. */
  lines: { id: string; name: string; quantity: number; cents: number; kind?: string; grams?: number }[];
  delivery?: Delivery;
  postcode?: string;
  /** Whether a part is paid first, and the rest when it is built. */
  deposit?: boolean;
  shipping: number;
  total: number;
  email: string;
  country: string;
  language: string;
  stage: string;
  state: string;
  version: number;
  closed: boolean;
  checkout: string | null;
  /** The bag that it was made of, where it was bought by a button. */
  bag?: string;
  /** The payment that pays it, or the last that was tried. */
  payment?: string;
  /** Where its money is, as it was told. */
  money: { due: string; held: string; paid: string; refunded: string; left?: string };
  heard: { at: string; says: string }[];
}

/** Keys that a shop calls with, and the secrets that its news is signed with. */
interface Access {
  keys: Record<Mode, string>;
  secrets: Record<Mode, string>;
}

interface State extends Access {
  /** Files under /.well-known/, by name. */
  files?: Record<string, string>;
  api: string;
  mode: Mode;
  /** The same for the shops beside the first. */
  beside?: Partial<Record<BranchId, Access>>;
  nextNo: number;
  orders: ShopOrder[];
  /** What shoppers subscribe to, by the number of the order that it began with. */
  subscriptions?: Record<string, Subscription>;
  /** What buttons were shown for, and how the shop behaves when it is asked about it. */
  bags?: Record<string, Bag>;
  manner?: Manner;
}

/** What lies in a bag that a button was shown for. */
export interface Bag {
  branch: BranchId;
  mode: Mode;
  language: Language;
  basket: Record<string, number>;
  group?: string;
  shopper?: string;
  /** The order that was made of it. */
  order?: string;
}

/** How the shop behaves when it is asked, which its keeper can set. */
export interface Manner {
  soldOut: string[];
  /** Milliseconds before it answers. */
  slow: number;
}

/** A subscription as the shop knows it from what it was told. */
export interface Subscription {
  plan: string;
  state: string;
  nextAt: string | null;
  version: number;
}

/** A plan as the payment service tells of it. */
export interface Plan {
  plan: string;
  names: Record<string, string>;
  every: { count: number; unit: "day" | "week" | "month" };
  trialDays: number | null;
  prices: { currency: string; amount: string; setUp: string; trial: string | null }[];
}

/** What of an order with a deposit is to be paid next: three tenths first, then what is left. */
export function partOf({ total, money, currency }: Pick<ShopOrder, "total" | "money" | "currency">): number {
  const there = minorOf(money.paid, currency) + minorOf(money.held, currency);
  if (there === 0) return Math.round(total * 0.3);
  // What was paid may hold a fee for the way it was paid.
  return money.left === undefined ? Math.max(0, total - there) : minorOf(money.left, currency);
}

type Line = ShopOrder["lines"][number];

/** A basket as lines, in a shop's currency and the shopper's language. */
export const linesOf = (basket: Record<string, number>, currency: string, language: string): Line[] =>
  goods.flatMap((good) => {
    const quantity = Math.min(Math.max(Math.trunc(basket[good.id] ?? 0), 0), 99);
    const { id, kind, grams } = good;
    const { name } = goodIn(good, language);
    return quantity ? [{ id, name, quantity, cents: priceIn(good.cents, currency), kind, grams }] : [];
  });

type Wanted = Pick<
  ShopOrder,
  | ("lines" | "shipping" | "total" | "currency" | "country" | "language")
  | ("delivery" | "postcode" | "group" | "branch")
>;

/** What is bought as the payment service is told it. */
function asTold({ lines, currency = "EUR", ...order }: Wanted) {
  const written = (minor: number) => decimal(minor, currency);
  return {
    currency,
    lines: lines.map((line) => ({
      name: line.name,
      quantity: line.quantity,
      unit: written(line.cents),
      total: written(line.cents * line.quantity),
      ...(line.kind && { kind: line.kind }),
    })),
    ...(order.delivery && { delivery: order.delivery }),
    weight: lines.reduce((sum, line) => sum + (line.grams ?? 0) * line.quantity, 0),
    shipTo: { country: order.country, ...(order.postcode && { postcode: order.postcode }) },
    shipping: written(order.shipping),
    tax: written(taxIn(order.total)),
    taxIncluded: true,
    total: written(order.total),
    country: order.country,
    language: order.language,
    group: order.group ?? (order.branch === "dealers" ? "dealers" : "retail"),
  };
}

/** What a page puts in: where a script is, and pieces of HTML. */
export interface Embed {
  script: { address: string; integrity: string };
  notices: { markup: string }[];
  buttons: { markup: string }[];
}
/** The pages that something is put into. */
export type EmbedPlace = "home" | "product" | "basket" | "small-basket" | "checkout";
/** A page does not wait for longer than this, milliseconds. */
const PATIENCE = Number(process.env.SHOP_PATIENCE ?? 1_500);

/** What became of a call to the payment service. */
export type Called = { ok: true; body: Record<string, unknown> } | { ok: false; says: string };

/** The shop behind its pages: its orders, its settings, and what it says to the payment service. */
export class Counter {
  readonly shelf: Shelf<State>;

  constructor(
    readonly origin: () => string,
    file?: string,
  ) {
    this.shelf = new Shelf<State>(file, () => ({
      api: process.env.SHOP_API ?? "http://localhost:4000/api/v1",
      mode: "test",
      keys: { test: "", live: "" },
      secrets: { test: "", live: "" },
      nextNo: 1001,
      orders: [],
    }));
  }

  get state() {
    return this.shelf.state;
  }

  orderOf(no: string) {
    return this.state.orders.find((one) => one.no === no);
  }

  /** What a shop calls with. */
  access(branch: BranchId = "de"): Access {
    if (branch === "de") return this.state;
    const none = { keys: { test: "", live: "" }, secrets: { test: "", live: "" } };
    return ((this.state.beside ??= {})[branch] ??= none);
  }

  async call(
    { mode, branch }: Pick<ShopOrder, "mode" | "branch">,
    method: string,
    path: string,
    body?: unknown,
    once?: string,
    patience = 60_000,
  ): Promise<Called> {
    try {
      const answer = await fetch(this.state.api + path, {
        method,
        headers: {
          authorization: `Bearer ${this.access(branch).keys[mode]}`,
          ...(body !== undefined && { "content-type": "application/json" }),
          ...(once && { "idempotency-key": once }),
        },
        ...(body !== undefined && { body: JSON.stringify(body) }),
        signal: AbortSignal.timeout(patience),
      });
      const read = (await answer.json()) as Record<string, unknown>;
      if (answer.ok) return { ok: true, body: read };
      return { ok: false, says: `${answer.status}: ${String(read.detail ?? read.title ?? "no reason")}` };
    } catch {
      return { ok: false, says: `Zahlung does not answer at ${this.state.api}` };
    }
  }

  /** Calls with the key of a mode: who am I, these are my stages, my news goes here. */
  async sayHello(mode: Mode, branch: BranchId = "de"): Promise<string> {
    const side = { mode, branch };
    const { secrets } = this.access(branch);
    const hello = await this.call(side, "GET", "/storefront");
    if (!hello.ok) return hello.says;
    if (hello.body.mode !== mode)
      return `This is a ${String(hello.body.mode)} key, and this is the ${mode} field.`;
    const stages = await this.call(side, "PUT", "/stages", { stages: branchOf(branch).stages });
    if (!stages.ok) return stages.says;
    if (!secrets[mode]) secrets[mode] = `whsec_${randomBytes(32).toString("base64")}`;
    const news = await this.call(side, "PUT", "/news-address", {
      address: `${this.origin()}/news/${branch === "de" ? "" : `${branch}/`}${mode}`,
      secret: secrets[mode],
    });
    this.shelf.changed();
    return news.ok ? `Zahlung knows this shop as ${String(hello.body.name)} (${mode}).` : news.says;
  }

  place(
    basket: Record<string, number>,
    shopper: Pick<
      ShopOrder,
      "email" | "country" | "language" | "delivery" | "postcode" | "deposit" | "branch" | "group" | "shopper"
    >,
  ): ShopOrder | null {
    const { currency } = branchOf(shopper.branch ?? "de");
    const lines = linesOf(basket, currency, shopper.language);
    if (lines.length === 0) return null;
    // Nothing is sent to whoever comes to fetch it.
    return this.order(lines, shopper, shopper.delivery === "pick-up" ? 0 : priceIn(SHIPPING, currency));
  }

  /** The order of a bag that was bought by a button. */
  orderOfBag(
    lines: Line[],
    shipping: number,
    about: Pick<ShopOrder, "email" | "country" | "language" | "branch"> & Partial<ShopOrder>,
  ): ShopOrder {
    return this.order(lines, about, shipping);
  }

  /** An order as the payment service takes it. */
  orderAsTold = (order: ShopOrder) => ({
    ...asTold(order),
    reference: order.no,
    ...(order.shopper && { shopper: order.shopper }),
    ...(order.deposit && { payNow: decimal(partOf(order), order.currency) }),
    email: order.email,
    returnAddress: `${this.origin()}/orders/${order.no}`,
  });

  private order(
    lines: Line[],
    shopper: Pick<ShopOrder, "email" | "country" | "language" | "branch"> & Partial<ShopOrder>,
    shipping: number,
    no = `LW-${this.state.nextNo++}`,
  ): ShopOrder {
    const { currency } = branchOf(shopper.branch ?? "de");
    const order: ShopOrder = {
      ...{ no, at: new Date().toISOString(), mode: this.state.mode },
      lines,
      currency,
      shipping,
      total: lines.reduce((sum, line) => sum + line.cents * line.quantity, shipping),
      ...shopper,
      stage: "New",
      state: "unpaid",
      version: 0,
      closed: false,
      checkout: null,
      money: { due: "0", held: "0", paid: "0", refunded: "0" },
      heard: [],
    };
    this.state.orders.unshift(order);
    this.shelf.changed();
    return order;
  }

  /** Opens a checkout for an order; the shopper is then sent to its address. */
  async openCheckout(order: ShopOrder, press: string): Promise<Called> {
    const called = await this.call(
      order,
      "POST",
      "/checkouts",
      this.orderAsTold(order),
      `${order.no}-${press}`,
    );
    if (called.ok) {
      order.checkout = String(called.body.checkout);
      this.shelf.changed();
    }
    return called;
  }

  /** Reads a purchase that was begun by a button, or has it ordered. */
  purchase(side: Pick<ShopOrder, "mode" | "branch">, id: string, act?: "confirm"): Promise<Called> {
    const path = `/purchases/${encodeURIComponent(id)}`;
    return act ? this.call(side, "POST", `${path}/${act}`, {}) : this.call(side, "GET", path);
  }

  /** What can be subscribed to in a shop; nothing where nobody answers. */
  async plans(branch: BranchId): Promise<Plan[]> {
    const side = { mode: this.state.mode, branch };
    if (!this.access(branch).keys[side.mode]) return [];
    const called = await this.call(side, "GET", "/plans", undefined, undefined, PATIENCE);
    const { currency } = branchOf(branch);
    return called.ok
      ? (called.body.plans as Plan[]).filter(({ prices }) => prices.some((one) => one.currency === currency))
      : [];
  }

  /** Begins a subscription; the shopper is then sent to its address. */
  async subscribe(
    { plan, names, prices }: Plan,
    about: { email: string; shopper: string; group: string; branch: BranchId; language: string },
  ): Promise<Called> {
    const { email, shopper, group, branch, language } = about;
    const { currency, countries } = branchOf(branch);
    const price = prices.find((one) => one.currency === currency);
    const name = names[language] ?? Object.values(names)[0] ?? plan;
    const order = this.order(
      [{ id: plan, name, quantity: 1, cents: minorOf(price?.trial ?? price?.amount ?? "0", currency) }],
      { email, country: countries[0] ?? "DE", language, branch, group, shopper },
      0,
    );
    const called = await this.call(
      order,
      "POST",
      "/subscriptions",
      {
        ...{ reference: order.no, plan, shopper, currency, country: order.country, language, group, email },
        returnAddress: `${this.origin()}/orders/${order.no}`,
      },
      `${order.no}-subscribe`,
    );
    if (!called.ok) return called;
    order.checkout = String(called.body.checkout);
    order.total = minorOf(String(called.body.due), currency);
    const { state, nextAt, version } = called.body as unknown as Subscription;
    (this.state.subscriptions ??= {})[order.no] = { plan, state, nextAt, version };
    this.shelf.changed();
    return called;
  }

  /** What a page puts in for a basket; null where there is nothing, or nobody answers. */
  async embedFor(place: EmbedPlace, wanted: Wanted, bag?: string): Promise<Embed | null> {
    const side = { mode: this.state.mode, ...(wanted.branch && { branch: wanted.branch }) };
    if (!this.access(wanted.branch).keys[side.mode] || wanted.lines.length === 0) return null;
    const here = this.origin();
    const buttons = bag && {
      basket: bag,
      answersAt: `${here}/ask/${wanted.branch ?? "de"}/${side.mode}`,
      returnAddress: `${here}/basket`,
      lookAddress: `${here}/purchase`,
    };
    const body = { ...asTold(wanted), place, origin: here, ...(buttons && { buttons }) };
    const called = await this.call(side, "POST", "/embeds", body, undefined, PATIENCE);
    if (!called.ok) return null;
    const embed = called.body as unknown as Embed;
    return embed.notices.length + embed.buttons.length > 0 ? embed : null;
  }

  /** Takes news. False when its signature does not fit. */
  hear(mode: Mode, headers: Record<string, string>, body: string, branch: BranchId = "de"): boolean {
    let news: { type: string; data: Record<string, unknown> };
    try {
      news = new Webhook(this.access(branch).secrets[mode]).verify(body, headers) as typeof news;
    } catch {
      return false;
    }
    if (news.type === "test-orders.close") {
      for (const no of news.data.orders as string[]) {
        const order = this.orderOf(no);
        if (order?.mode === "test") order.closed = true;
      }
    } else if (news.type === "subscription.changed") this.hearOfSubscription(mode, news.data);
    else this.hearOfOrder(mode, news);
    this.shelf.changed();
    return true;
  }

  private hearOfSubscription(mode: Mode, data: Record<string, unknown>) {
    const about = data.subscription as Subscription & { reference: string; amount: string };
    const first = this.orderOf(about.reference);
    if (first?.mode !== mode) return;
    const { plan, state, nextAt, version } = about;
    const known = (this.state.subscriptions ??= {})[about.reference];
    if (!known || known.version < version)
      this.state.subscriptions[about.reference] = { plan, state, nextAt, version };
    first.heard.push({
      at: new Date().toISOString(),
      says: `subscription: ${(data.happened as { what: string }).what}`,
    });
    const no = data.order === undefined ? null : String(data.order);
    if (no === null || this.orderOf(no)) return;
    const lines = first.lines.map((line) => ({ ...line, cents: minorOf(about.amount, first.currency) }));
    const { email, country, language, branch, group, shopper } = first;
    this.order(
      lines,
      {
        ...{ email, country, language, mode, branch: branch ?? "de" },
        ...(group !== undefined && { group }),
        ...(shopper !== undefined && { shopper }),
      },
      0,
      no,
    );
  }

  private hearOfOrder(mode: Mode, { type, data }: { type: string; data: Record<string, unknown> }) {
    const about = (data.order ?? {}) as Record<string, unknown>;
    const payment = (data.payment ?? {}) as Record<string, unknown>;
    const closed = type === "checkout.closed";
    const order = this.orderOf(String(closed ? data.order : about.order));
    if (!order || order.mode !== mode) return;
    order.heard.push({
      at: new Date().toISOString(),
      says: `${type}: ${String(closed ? data.state : payment.state)}`,
    });
    // News can overtake news: the highest version of an order is the truth.
    if (type !== "order.changed" || Number(about.version) <= order.version) return;
    order.version = Number(about.version);
    order.money ??= { due: "0", held: "0", paid: "0", refunded: "0" };
    order.payment = String(about.payment ?? payment.payment);
    order.state =
      about.payment === null || about.payment === payment.payment ? String(payment.state) : order.state;
    for (const name of ["due", "held", "paid", "refunded", "left"] as const)
      order.money[name] = String(about[name] ?? "0");
    if (typeof about.stage === "string") order.stage = about.stage;
  }
}
