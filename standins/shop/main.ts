import express, { type Request, type Response } from "express";
import { listen } from "../server";
import { type Html, html } from "../html";
import { type Deed, deeds, doDeed } from "./back-office";
import { Counter, type Mode } from "./counter";
import { goods, isDelivery } from "./goods";
import {
  basketPage,
  frontPage,
  keeperOrdersPage,
  keeperPage,
  orderPage,
  page,
  textPage,
  texts,
} from "./pages";

const counter = new Counter(
  () => process.env.SHOP_ORIGIN ?? `http://localhost:${process.env.PORT ?? 4200}`,
  process.env.SHOP_STATE,
);
const app = express();
app.disable("x-powered-by");
app.get("/healthz", (_, response) => void response.json({ ok: true }));

// News comes first: its signature is over the raw body.
app.post("/news/:mode", express.text({ type: () => true, limit: "1mb" }), (request, response) => {
  const mode = request.params.mode as Mode;
  if (mode !== "test" && mode !== "live") return void response.status(404).end();
  const heard = counter.hear(mode, request.headers as Record<string, string>, String(request.body));
  response.status(heard ? 204 : 401).end();
});

app.use(express.urlencoded({ extended: false, limit: "20kb" }));
const show = (response: Response, title: string, body: Html, request: Request) =>
  response.send(page(title, body, basketOf(request), counter.state.mode));

function basketOf(request: Request): Record<string, number> {
  const text = /(?:^|; )basket=([^;]*)/.exec(request.get("cookie") ?? "")?.[1] ?? "";
  const entries = text.split("_").flatMap((one) => {
    const [id, count] = one.split(".");
    return id && goods.some((good) => good.id === id) && Number(count) > 0
      ? [[id, Math.min(Number(count), 99)] as const]
      : [];
  });
  return Object.fromEntries(entries);
}
const keepBasket = (response: Response, basket: Record<string, number>) =>
  response.set(
    "set-cookie",
    `basket=${Object.entries(basket)
      .map(([id, count]) => `${id}.${count}`)
      .join("_")}; Path=/; SameSite=Lax; Max-Age=604800`,
  );

app.get("/", (request, response) => void show(response, "Luvwinkel", frontPage(), request));
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
app.get(
  "/basket",
  (request, response) => void show(response, "Warenkorb", basketPage(basketOf(request)), request),
);

app.post("/orders", async (request, response) => {
  const {
    email = "",
    country = "DE",
    language = "de",
    postcode = "",
    delivery,
    deposit,
  } = request.body as Record<string, string>;
  if (!/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(email)) {
    return void show(
      response.status(422),
      "Warenkorb",
      basketPage(basketOf(request), "Bitte eine E-Mail-Adresse angeben."),
      request,
    );
  }
  const order = counter.place(basketOf(request), {
    ...{ email, country, language },
    ...(isDelivery(delivery) && { delivery }),
    ...(postcode.trim() && { postcode: postcode.trim().slice(0, 12) }),
    ...(deposit === "yes" && { deposit: true }),
  });
  if (!order) return void response.redirect(303, "/basket");
  keepBasket(response, {});
  await toPayment(response, request, order.no, "1");
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
    orderPage(order, `Die Zahlung ließ sich nicht öffnen. ${called.says}`),
    request,
  );
}

app.get("/orders/:no", (request, response) => {
  const order = counter.orderOf(String(request.params.no));
  if (!order) return void response.status(404).send("There is no such order.");
  show(response, order.no, orderPage(order), request);
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
  const { api = "", test = "", live = "", mode } = request.body as Record<string, string>;
  const { state } = counter;
  if (URL.canParse(api.trim())) state.api = api.trim().replace(/\/$/, "");
  if (test.trim()) state.keys.test = test.trim();
  if (live.trim()) state.keys.live = live.trim();
  if (mode === "test" || mode === "live") state.mode = mode;
  counter.shelf.changed();
  const says: string[] = [];
  for (const one of ["test", "live"] as const) if (state.keys[one]) says.push(await counter.sayHello(one));
  show(response, "Shopkeeper", keeperPage(state, says), request);
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
