import { randomBytes } from "node:crypto";
import express, { type Request, type Response } from "express";
import { listen } from "../server";
import { type Html, html } from "../html";
import { type Deed, deeds, doDeed } from "./back-office";
import { answer, bagOf, keepBag } from "./bags";
import { Counter, type EmbedPlace, linesOf, type Mode } from "./counter";
import { type BranchId, branchOf, customers, isBranch, priceIn, shopWords } from "./branches";
import { goods, isDelivery, SHIPPING } from "./goods";
import { basketPage, checkoutPage } from "./pages/basket";
import { page, type Puts, type Visit } from "./pages/frame";
import { frontPage, goodPage, plansPage, signInPage } from "./pages/goods";
import { keeperOrdersPage, keeperPage } from "./pages/keeper";
import { orderPage, orderScript, purchasePage } from "./pages/orders";
import { textPage, texts } from "./pages/texts";

const counter = new Counter(
  () => process.env.SHOP_ORIGIN ?? `http://localhost:${process.env.PORT ?? 4200}`,
  process.env.SHOP_STATE,
);
const app = express();
app.disable("x-powered-by");
app.get("/healthz", (_, response) => void response.json({ ok: true }));

// News comes first: its signature is over the raw body.
const asText = express.text({ type: () => true, limit: "1mb" });
function hear(request: Request, response: Response, branch: unknown) {
  const mode = request.params.mode as Mode;
  if ((mode !== "test" && mode !== "live") || !isBranch(branch)) return void response.status(404).end();
  const heard = counter.hear(mode, request.headers as Record<string, string>, String(request.body), branch);
  response.status(heard ? 204 : 401).end();
}
app.post("/news/:mode", asText, (request, response) => hear(request, response, "de"));
app.post("/news/:branch/:mode", asText, (request, response) =>
  hear(request, response, request.params.branch),
);

// What the payment service asks while somebody buys by a button, signed as news is.
app.post("/ask/:branch/:mode", asText, async (request, response) => {
  const { branch, mode } = request.params;
  if ((mode !== "test" && mode !== "live") || !isBranch(branch)) return void response.status(404).end();
  const headers = request.headers as Record<string, string>;
  const said = await answer(counter, { mode, branch }, headers, String(request.body));
  if (said) response.json(said);
  else response.status(401).end();
});

app.use(express.urlencoded({ extended: false, limit: "20kb" }));
const show = (response: Response, title: string, body: Html, request: Request, puts: Puts = {}) =>
  response
    .set("content-security-policy", policy())
    .send(page(title, body, visitOf(request), counter.state.mode, puts));

/** What the shop's pages may use: their own, and what the payment service puts in. */
function policy(): string {
  const { origin } = new URL(counter.state.api);
  return `default-src 'none'; script-src 'self' ${origin}; connect-src 'self' ${origin}; style-src 'unsafe-inline'; img-src data:; base-uri 'none'; require-trusted-types-for 'script'`;
}

/** What the payment service has to put onto a page with these goods on it. */
function embedOn(place: EmbedPlace, visit: Visit, basket: Record<string, number>) {
  const { branch, customer, language } = visit;
  const { currency, countries } = branchOf(branch);
  // The first page speaks of a price and sells nothing by itself.
  const isBasket = place !== "home" && place !== "product";
  const bag = place === "home" ? undefined : bagOf(`${isBasket ? "basket" : place} ${visit.shopper}`, basket);
  if (bag)
    keepBag(counter, bag, {
      ...{ branch, mode: counter.state.mode, language, basket },
      ...(customer && { group: customer.group, shopper: customer.id }),
    });
  const lines = linesOf(basket, currency, language);
  // What is looked at is not sent yet; what is in the basket will be.
  const shipping = isBasket ? priceIn(SHIPPING, currency) : 0;
  const wanted = {
    ...{ lines, shipping, currency, branch, language, country: countries[0] ?? "DE" },
    total: lines.reduce((sum, line) => sum + line.cents * line.quantity, shipping),
    ...(customer && { group: customer.group }),
  };
  return counter.embedFor(place, wanted, bag);
}
/** Whose price the first page speaks of. */
const OF_THE_SEASON = "sturm";

const cookieOf = (request: Request, name: string) =>
  new RegExp(`(?:^|; )${name}=([^;]*)`).exec(request.get("cookie") ?? "")?.[1] ?? "";

function visitOf(request: Request): Visit {
  const kept = cookieOf(request, "branch");
  const branch: BranchId = isBranch(kept) ? kept : "de";
  const { languages } = branchOf(branch);
  const language = languages.find((one) => one === cookieOf(request, "language")) ?? languages[0] ?? "de";
  const word = cookieOf(request, "customer");
  const customer = customers[word] ? { ...customers[word], id: `customer-${word}` } : null;
  return {
    branch,
    language,
    customer,
    basket: basketOf(request),
    shopper: numbers.get(request) ?? cookieOf(request, "shopper"),
  };
}

// Whoever comes gets a number, by which their basket is the same in every window until it is ordered.
const numbers = new WeakMap<Request, string>();
function newShopper(response: Response): string {
  const number = randomBytes(9).toString("base64url");
  remember(response, "shopper", number);
  return number;
}
app.get(["/", "/goods/:id", "/basket", "/checkout"], (request, response, next) => {
  numbers.set(request, cookieOf(request, "shopper") || newShopper(response));
  next();
});

const remember = (response: Response, name: string, value: string) =>
  response.append("set-cookie", `${name}=${value}; Path=/; SameSite=Lax; Max-Age=604800`);

function basketOf(request: Request): Record<string, number> {
  const text = cookieOf(request, "basket");
  const entries = text.split("_").flatMap((one) => {
    const [id, count] = one.split(".");
    return id && goods.some((good) => good.id === id) && Number(count) > 0
      ? [[id, Math.min(Number(count), 99)] as const]
      : [];
  });
  return Object.fromEntries(entries);
}
const keepBasket = (response: Response, basket: Record<string, number>) =>
  remember(
    response,
    "basket",
    Object.entries(basket)
      .map(([id, count]) => `${id}.${count}`)
      .join("_"),
  );

app.get("/", async (request, response) => {
  const visit = visitOf(request);
  const [embed, small] = await Promise.all([
    embedOn("home", visit, { [OF_THE_SEASON]: 1 }),
    embedOn("small-basket", visit, visit.basket),
  ]);
  show(response, "Luvwinkel", frontPage(visit, embed), request, { embed, small });
});
app.get("/goods/:id", async (request, response) => {
  const good = goods.find(({ id }) => id === request.params.id);
  if (!good) return void response.status(404).send("There is no such thing here.");
  const visit = visitOf(request);
  const [embed, small] = await Promise.all([
    embedOn("product", visit, { [good.id]: 1 }),
    embedOn("small-basket", visit, visit.basket),
  ]);
  show(response, good.name, goodPage(good, visit, embed), request, { embed, small });
});
app.post("/visit", (request, response) => {
  const { branch, language } = request.body as Record<string, string>;
  if (isBranch(branch)) remember(response, "branch", branch);
  if (language && Object.hasOwn(shopWords, language)) remember(response, "language", language);
  response.redirect(303, "/");
});
app.get(
  "/sign-in",
  (request, response) => void show(response, "Luvwinkel", signInPage(visitOf(request)), request),
);
app.post("/sign-in", (request, response) => {
  const { word = "", out } = request.body as Record<string, string>;
  const known = out ? "" : word.trim().toLowerCase();
  if (known !== "" && !Object.hasOwn(customers, known))
    return void show(response.status(422), "Luvwinkel", signInPage(visitOf(request), true), request);
  remember(response, "customer", known);
  response.redirect(303, "/");
});
for (const { path, title, says } of texts)
  app.get(path, (request, response) => void show(response, title, textPage(title, says), request));
app.post("/basket", (request, response) => {
  const { add, set, count } = request.body as Record<string, string>;
  const basket = basketOf(request);
  if (add && goods.some((good) => good.id === add)) basket[add] = (basket[add] ?? 0) + 1;
  if (set) basket[set] = Math.trunc(Number(count)) || 0;
  keepBasket(response, Object.fromEntries(Object.entries(basket).filter(([, n]) => n > 0)));
  response.redirect(303, "/basket");
});
app.get("/basket", async (request, response) => {
  const visit = visitOf(request);
  const embed = await embedOn("basket", visit, visit.basket);
  const title = shopWords[visit.language].basket;
  show(response, title, basketPage(visit, embed), request, { embed });
});
app.get("/checkout", async (request, response) => {
  const visit = visitOf(request);
  if (Object.keys(visit.basket).length === 0) return void response.redirect(303, "/basket");
  const embed = await embedOn("checkout", visit, visit.basket);
  show(response, shopWords[visit.language].checkout, checkoutPage(visit, { embed }), request, { embed });
});

app.post("/orders", async (request, response) => {
  const visit = visitOf(request);
  const { branch, customer } = visit;
  const {
    email = "",
    country = branchOf(branch).countries[0] ?? "DE",
    language = visit.language,
    postcode = "",
    delivery,
    deposit,
  } = request.body as Record<string, string>;
  if (!/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(email)) {
    const { checkout, badMail } = shopWords[visit.language];
    const embed = await embedOn("checkout", visit, visit.basket);
    const body = checkoutPage(visit, { wrong: badMail, embed });
    return void show(response.status(422), checkout, body, request, { embed });
  }
  if (branchOf(branch).dealersOnly && customer?.group !== "dealers")
    return void response.redirect(303, "/sign-in");
  const order = counter.place(visit.basket, {
    ...{ email, country, language, branch },
    ...(customer && { group: customer.group, shopper: customer.id }),
    ...(isDelivery(delivery) && { delivery }),
    ...(postcode.trim() && { postcode: postcode.trim().slice(0, 12) }),
    ...(deposit === "yes" && { deposit: true }),
  });
  if (!order) return void response.redirect(303, "/basket");
  keepBasket(response, {});
  await toPayment(response, request, order.no, "1");
});
app.get("/seasons", async (request, response) => {
  const visit = visitOf(request);
  const plans = await counter.plans(visit.branch);
  show(response, shopWords[visit.language].seasons, plansPage(plans, visit), request);
});
app.post("/seasons", async (request, response) => {
  const visit = visitOf(request);
  const { branch, language, customer } = visit;
  if (!customer) return void response.redirect(303, "/sign-in");
  const { email = "", plan: wanted = "" } = request.body as Record<string, string>;
  const plans = await counter.plans(branch);
  const plan = plans.find((one) => one.plan === wanted);
  const words = shopWords[language];
  const refuse = (status: number, says: string) =>
    show(response.status(status), words.seasons, plansPage(plans, visit, says), request);
  if (!plan) return void refuse(404, words.noPlans);
  if (!/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(email)) return void refuse(422, words.badMail);
  const about = { email, shopper: customer.id, group: customer.group, branch, language };
  const called = await counter.subscribe(plan, about);
  if (called.ok) return void response.redirect(303, String(called.body.address));
  refuse(502, called.says);
});
app.get("/mine", async (request, response) => {
  const { branch, customer, language } = visitOf(request);
  if (!customer) return void response.redirect(303, "/sign-in");
  const called = await counter.call(
    { mode: counter.state.mode, branch },
    "POST",
    `/shoppers/${customer.id}/page`,
    { language, returnAddress: `${counter.origin()}/` },
  );
  if (called.ok) return void response.redirect(303, String(called.body.address));
  show(response.status(502), "Luvwinkel", textPage(called.says, []), request);
});
app.get("/purchase", async (request, response) => {
  const { branch } = visitOf(request);
  const id = String(request.query.purchase ?? "");
  const called = await counter.purchase({ mode: counter.state.mode, branch }, id);
  if (!called.ok) return void response.status(404).send("There is no such purchase.");
  show(response, "Luvwinkel", purchasePage(called.body, visitOf(request)), request);
});
app.post("/purchase", async (request, response) => {
  const { branch } = visitOf(request);
  const { purchase = "" } = request.body as Record<string, string>;
  const called = await counter.purchase({ mode: counter.state.mode, branch }, purchase, "confirm");
  if (called.ok) return void response.redirect(303, String(called.body.goTo));
  show(response.status(502), "Luvwinkel", textPage(called.says, []), request);
});
app.post("/orders/:no/pay", (request, response) =>
  toPayment(response, request, String(request.params.no), String(Date.now())),
);

async function toPayment(response: Response, request: Request, no: string, press: string) {
  const order = counter.orderOf(no);
  if (!order) return void response.status(404).send("There is no such order.");
  const called = await counter.openCheckout(order, press);
  if (called.ok) return void response.redirect(303, String(called.body.address));
  show(
    response.status(502),
    no,
    orderPage(order, visitOf(request), `Die Zahlung ließ sich nicht öffnen. ${called.says}`),
    request,
  );
}

app.get("/order.js", (_, response) => void response.type("text/javascript").send(orderScript));
app.get("/orders/:no", (request, response) => {
  const order = counter.orderOf(String(request.params.no));
  if (!order) return void response.status(404).send("There is no such order.");
  // What was bought by a button is in the basket no more.
  if (order.bag !== undefined) {
    const { shopper, basket } = visitOf(request);
    if (order.bag === bagOf(`basket ${shopper}`, basket)) keepBasket(response, {});
    // What is bought next is another purchase, even if it is the same again.
    newShopper(response);
  }
  show(response, order.no, orderPage(order, visitOf(request)), request);
});
app.get("/orders/:no/stage", (request, response) => {
  const order = counter.orderOf(String(request.params.no));
  if (!order) return void response.status(404).end();
  response.json({ stage: order.stage, state: order.state });
});

app.get(
  "/keeper",
  (request, response) => void show(response, "Shopkeeper", keeperPage(counter.state), request),
);
app.get(
  "/keeper/orders",
  (request, response) => void show(response, "Orders", keeperOrdersPage(counter.state.orders), request),
);
app.post("/keeper/orders/:no", async (request, response) => {
  const order = counter.orderOf(String(request.params.no));
  const { deed = "", amount = "", once = "" } = request.body as Record<string, string>;
  if (!order || !Object.hasOwn(deeds, deed)) return void response.status(404).send("That cannot be done.");
  const says = await doDeed(counter, order, deed as Deed, { amount: amount.trim(), once });
  show(response, "Orders", keeperOrdersPage(counter.state.orders, says), request);
});
app.post("/keeper", async (request, response) => {
  const { api = "", test = "", live = "", mode, branch = "de" } = request.body as Record<string, string>;
  const { state } = counter;
  const which = isBranch(branch) ? branch : "de";
  const { keys } = counter.access(which);
  if (URL.canParse(api.trim())) state.api = api.trim().replace(/\/$/, "");
  if (test.trim()) keys.test = test.trim();
  if (live.trim()) keys.live = live.trim();
  if (mode === "test" || mode === "live") state.mode = mode;
  counter.shelf.changed();
  const says: string[] = [];
  for (const one of ["test", "live"] as const) if (keys[one]) says.push(await counter.sayHello(one, which));
  show(response, "Shopkeeper", keeperPage(state, says), request);
});
app.post("/keeper/manner", (request, response) => {
  const { soldOut = "", slow = "0" } = request.body as Record<string, string>;
  const known = soldOut.split(/[\s,]+/).filter((one) => goods.some(({ id }) => id === one));
  counter.state.manner = {
    soldOut: known,
    slow: Math.min(Math.max(Math.trunc(Number(slow)) || 0, 0), 20_000),
  };
  counter.shelf.changed();
  response.redirect(303, "/keeper");
});
app.post("/keeper/files", (request, response) => {
  const { name = "", text = "" } = request.body as Record<string, string>;
  const { state } = counter;
  if (!/^[\w.-]{1,80}$/.test(name.trim()) || text.length > 20_000)
    return void show(
      response.status(422),
      "Shopkeeper",
      keeperPage(state, ["A file has a short name, and is not long."]),
      request,
    );
  (state.files ??= {})[name.trim()] = text.replace(/\r\n/g, "\n");
  counter.shelf.changed();
  show(response, "Shopkeeper", keeperPage(state), request);
});
app.get("/.well-known/:name", (request, response, next) => {
  const text = counter.state.files?.[request.params.name];
  if (text === undefined) return next();
  response.type("text/plain").send(text);
});
app.use(
  (_, response) =>
    void response.status(404).send(
      String(
        html`<!doctype html><title>Luvwinkel</title>
          <p>Hier ist nichts. <a href="/">Zum Laden</a></p>`,
      ),
    ),
);

listen(app, "Luvwinkel", 4200, () => counter.shelf.write());
