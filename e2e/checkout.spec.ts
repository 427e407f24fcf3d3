import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { cards, choose, goToPayment, orderStage, signIn, storefront, typeCard } from "./people";
import { prepareOffer } from "./prepare";
import { accessible, expect, letPass, patient, test } from "./world";
import { staysWhole } from "./whole";

test.use({ room: "checkout" });

test.describe.configure({ mode: "serial" });

test.beforeAll(async ({ browser, world }) => {
  const page = patient(await browser.newPage());
  await prepareOffer(page, world);
  await page.close();
});

test("a challenge opens, and comes back passed or failed", async ({ page, world, quietConsole }) => {
  await goToPayment(page, world);
  await typeCard(page, cards.sandbox.asks);
  await expect(page.getByRole("heading", { name: "Is it you?" })).toBeVisible();
  await page.getByRole("button", { name: "No, refuse it" }).click();
  await expect(page.getByText("Your bank could not confirm that it was you.")).toBeVisible();
  await typeCard(page, cards.sandbox.asks);
  await page.getByRole("button", { name: "Yes, it is me" }).click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await expect(orderStage(page)).toHaveText("Paid: to the loft");
  // Each answer on the way back may be cut short by the next page.
  letPass(quietConsole, /net::ERR_ABORTED/);
});

test("leaving the challenge and coming back shows the way there again; turning back ends it", async ({
  page,
  world,
}) => {
  await goToPayment(page, world);
  const address = page.url();
  await typeCard(page, cards.sandbox.asks);
  await expect(page.getByRole("heading", { name: "Is it you?" })).toBeVisible();
  await page.goto(address);
  await expect(page.getByRole("heading", { name: "Your bank wants to ask you" })).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Turn back to the shop" }).click();
  await expect(page.getByRole("heading", { name: "You turned back" })).toBeVisible();
  await accessible(page);
  await page.reload();
  await expect(page.getByText("Nothing was charged. The shop keeps your basket.")).toBeVisible();
});

test("a processing error and a wrong mode's card are said in the shopper's words", async ({
  page,
  world,
  quietConsole,
}) => {
  await goToPayment(page, world);
  await typeCard(page, cards.live.good);
  await expect(
    page.frameLocator("iframe").getByText("This is a real card; here only test cards are taken."),
  ).toBeVisible();
  await typeCard(page, "1234 5678 9012 3456");
  await expect(page.frameLocator("iframe").getByText("This is not a card number.")).toBeVisible();
  await typeCard(page, cards.sandbox.broken);
  await expect(page.getByText("The payment could not be processed. Nothing was charged.")).toBeVisible();
  await typeCard(page, cards.sandbox.wrongCode);
  await expect(page.getByText("the security code does not fit")).toBeVisible();
  letPass(quietConsole, /status of 422/);
});

test("in test a card is filled in by a press, and listed in the page's language", async ({ page, world }) => {
  await goToPayment(page, world);
  const panel = page.getByRole("region", { name: /No money moves here/ });
  await expect(panel.getByText("Declined: not enough money")).toBeVisible();
  await expect(panel.getByText("Valid until")).toBeVisible();
  const frame = page.frameLocator("iframe");
  await frame.getByLabel("Card number").waitFor();
  // The frame is somebody else's page: until it listens, a press comes to nothing and is made again.
  const fillIn = (card: string, number: string) =>
    expect(async () => {
      await panel.getByRole("button", { name: `Fill in: ${card}`, exact: true }).click();
      await expect(frame.getByLabel("Card number")).toHaveValue(number, { timeout: 2_000 });
    }).toPass();
  await fillIn("Norda, empty", "9901 0000 0000 0027");
  await frame.getByRole("button").click();
  await expect(page.getByText("there is not enough money on it")).toBeVisible();
  await frame.getByLabel("Card number").waitFor();
  await fillIn("Norda, good", "9901 0000 0000 0019");
  await frame.getByRole("button").click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
});

test("reload, back and two tabs make one payment", async ({ page, context, world }) => {
  await goToPayment(page, world);
  const address = page.url();
  const second = await context.newPage();
  await second.goto(address);
  await typeCard(page, cards.sandbox.good);
  await expect(page).toHaveURL(/\/orders\/LW-/);
  const order = page.url().split("/").at(-1) ?? "";
  await typeCard(second, cards.sandbox.good);
  await expect(second).toHaveURL(/\/orders\/LW-/);
  await page.goto(address);
  await expect(page.getByRole("heading", { name: "Paid. Thank you" })).toBeVisible();
  // In a page of its own: a paid one leads back to the shop by itself, in the middle of whatever it is asked to open.
  const desk = await context.newPage();
  await signIn(desk, world);
  await desk.goto(`${world.env.origins.zahlung}${storefront}/operate?q=${order}`);
  await expect(desk.getByRole("row").filter({ hasText: order })).toHaveCount(1);
});

test("works on a phone, in German, with the keyboard alone, and copies test cards with one press", async ({
  browser,
  world,
}) => {
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    permissions: ["clipboard-read", "clipboard-write"],
  });
  const page = patient(await context.newPage());
  await goToPayment(page, world, "tape", "de");
  await accessible(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await expect(page.getByText("Zu zahlen")).toBeVisible();
  await page.getByRole("button", { name: /9901 0000 0000 0019/ }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe("9901 0000 0000 0019");
  const frame = page.frameLocator("iframe");
  await frame.getByLabel("Kartennummer").focus();
  await page.keyboard.type("9901000000000019");
  await page.keyboard.press("Tab");
  await page.keyboard.type("09/39");
  await page.keyboard.press("Tab");
  await page.keyboard.type("707");
  await page.keyboard.press("Tab");
  await page.keyboard.type("Ida Haff");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Bezahlt. Vielen Dank" })).toBeVisible();
  await context.close();
});

test("stands still as it comes, needs little script, and is drawn from its first answer", async ({
  browser,
  world,
}) => {
  const page = patient(await browser.newPage({ viewport: { width: 390, height: 844 } }));
  await goToPayment(page, world);
  const address = page.url();
  await page.addInitScript(() => {
    const kept = window as unknown as { moved: number };
    kept.moved = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & {
        value: number;
        hadRecentInput: boolean;
      })[])
        if (!entry.hadRecentInput) kept.moved += entry.value;
    }).observe({ type: "layout-shift", buffered: true });
  });
  await page.goto(address);
  await expect(page.frameLocator("iframe").getByLabel(/Card number/)).toBeVisible();
  await page.waitForTimeout(500);
  const moved = await page.evaluate(() => (window as unknown as { moved: number }).moved);
  // Nothing holds the first paint up: no sheet of styles and no script stands in its way.
  const inTheWay = await page.evaluate(() =>
    [
      ...document.querySelectorAll<HTMLElement>(
        "head link[rel=stylesheet]:not([media=print]), head script[src]:not([async], [defer], [type=module])",
      ),
    ].map((one) => one.outerHTML.slice(0, 120)),
  );
  const scripts = await page.evaluate(() =>
    [
      ...performance.getEntriesByType("resource").map(({ name }) => name),
      ...[...document.querySelectorAll<HTMLLinkElement>("link[rel=modulepreload]")].map((one) => one.href),
    ].filter((name) => name.startsWith(location.origin) && name.endsWith(".js")),
  );
  const names = new Set(scripts.map((one) => new URL(one).pathname));
  const total = [...names].reduce(
    (sum, name) => sum + gzipSync(readFileSync(join("build", "client", name))).length,
    0,
  );
  console.log(
    `   the hosted page's scripts: ${Math.round(total / 1000)} kB; layout shift ${moved.toFixed(4)}`,
  );
  expect(moved).toBeLessThan(0.02);
  expect(inTheWay).toEqual([]);
  expect(total).toBeGreaterThan(0);
  expect(total).toBeLessThan(150_000);
  await page.close();
});

test("nothing is cut or pushed aside by words half as long again, nor by letters twice as large", async ({
  browser,
  world,
}) => {
  const page = patient(await browser.newPage());
  await goToPayment(page, world);
  await staysWhole(page);
  await page.close();
});

test("shows the order and takes the choice before any script has run", async ({ browser, world }) => {
  const page = patient(await browser.newPage());
  await goToPayment(page, world);
  const address = page.url();
  const plain = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
  await plain.goto(address);
  await expect(plain.getByText("€43.90")).toBeVisible();
  await expect(plain.getByRole("radio", { name: /Card/ })).toBeChecked();
  await plain.getByRole("button", { name: "Turn back to the shop" }).click();
  await expect(plain.getByRole("heading", { name: "You turned back" })).toBeVisible();
  await plain.context().close();
  await page.close();
});

test("a card form that does not come says so, and comes when asked for again", async ({
  page,
  world,
  quietConsole,
}) => {
  await page.route(/\/karvello\/sandbox\/frame/, (route) => route.abort());
  await goToPayment(page, world);
  await expect(page.getByRole("alert")).toContainText("The card form does not come");
  await accessible(page);
  await page.unroute(/\/karvello\/sandbox\/frame/);
  await page.getByRole("button", { name: "Try again" }).click();
  await typeCard(page, cards.sandbox.good);
  await expect(page.getByRole("heading", { name: "Paid. Thank you" })).toBeVisible();
  letPass(quietConsole, /ERR_FAILED/);
});

test("a card that is typed before the page is awake is not lost", async ({ page, world }) => {
  // The page's scripts come late, as on a slow line; the provider's frame is there at once.
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route(/\/assets\/.*\.js/, async (route) => {
    await held;
    await route.continue();
  });
  await goToPayment(page, world, "tape", "en", { awake: false });
  await typeCard(page, cards.sandbox.good);
  await expect.poll(() => page.evaluate(() => window.saidEarly?.length)).toBe(1);
  release();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await expect(orderStage(page)).toHaveText("Paid: to the loft");
});

test("a connection lost while paying says so, and the page that comes back shows what became of it", async ({
  page,
  context,
  world,
  quietConsole,
}) => {
  await goToPayment(page, world);
  // The payment arrives and is made; only its answer is lost.
  await page.route(/\/pay\/[^/]+\.data(\?|$)/, async (route) => {
    if (route.request().method() !== "POST") return route.continue();
    await route.fetch({ maxRedirects: 0 });
    await context.setOffline(true);
    await route.abort("internetdisconnected");
  });
  await typeCard(page, cards.sandbox.good);
  await expect(page.getByRole("heading", { name: "The connection was lost" })).toBeVisible();
  await accessible(page);
  await page.unrouteAll({ behavior: "ignoreErrors" });
  await context.setOffline(false);
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await expect(orderStage(page)).toHaveText("Paid: to the loft");
  letPass(quietConsole, /INTERNET_DISCONNECTED|Failed to fetch/);
});

test("a card that is typed before the shopper agreed to the terms pays once they agree", async ({
  page,
  world,
}) => {
  const { zahlung, shop } = world.env.origins;
  const look = async (terms: string) => {
    const form = { press: "save", corner: "square", face: "plain", light: "device", terms };
    const sent = await page.request.post(`${zahlung}${storefront}/offer/look`, {
      form: { ...form, "terms-de": `${shop}/agb` },
      headers: { origin: zahlung },
    });
    expect(sent.status()).toBe(200);
  };
  await signIn(page, world);
  await look("required");
  await goToPayment(page, world);
  await typeCard(page, cards.sandbox.good);
  await expect(page.getByText("Please agree to the terms of sale first.")).toBeVisible();
  await accessible(page);
  // It pays at once, and the page is left before anybody could look whether it is checked.
  await page.getByLabel("I agree to the terms of sale").click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await expect(orderStage(page)).toHaveText("Paid: to the loft");
  await look("none");
});

test("the sheet leads to what the provider is told, and to its revisions, of which one is restored", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  await page.getByRole("link", { name: "what the provider is told" }).click();
  await expect(page.getByRole("row", { name: /“your_ref”/ })).toContainText("our reference of the payment");
  await expect(page.getByText(/^Not told: .*the shopper’s e-mail address/)).toBeVisible();
  await accessible(page);
  await page.goBack();
  await expect(page.getByRole("link", { name: "revisions" })).toBeVisible();
  await accessible(page);
  await page.getByLabel("Statement text").fill("LUVWINKEL KITES");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
  await page.getByRole("link", { name: "revisions" }).click();
  await expect(page.getByRole("row", { name: /LUVWINKEL KITES/ })).toContainText("Statement text");
  await accessible(page);
  await page.getByRole("button", { name: "Compare", exact: true }).click();
  await expect(page.getByRole("table", { name: "What differs" })).toContainText("LUVWINKEL KITES");
  await page
    .getByRole("button", { name: /^Restore revision/ })
    .first()
    .click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Restore it" }).click();
  await expect(page.getByText(/^Revision \d+ is restored as revision \d+\.$/)).toBeVisible();
});

test("an offer that is switched off is gone at once", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  await page.getByRole("button", { name: "Switch off in test at once" }).click();
  await expect(page.getByText("switched off", { exact: true })).toBeVisible();
  await goToPayment(page, world);
  await expect(page.getByRole("heading", { name: "This order cannot be paid here just now" })).toBeVisible();
  await accessible(page);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  await page.getByRole("button", { name: "Switch on in test" }).click();
  await expect(page.getByText("switched off", { exact: true })).toHaveCount(0);
});

test("says that it waits while the provider is silent", async ({ page, world }) => {
  await goToPayment(page, world);
  await world.weather("sandbox", "error", 500);
  try {
    await typeCard(page, cards.sandbox.good);
    await expect(page.getByRole("heading", { name: "We are waiting for an answer" })).toBeVisible();
    await accessible(page);
  } finally {
    await fetch(`${world.env.origins.standins}/weather/karvello`, { method: "DELETE" });
  }
});

test("another storefront does not reach what is not its own", async ({ page, world, quietConsole }) => {
  const { zahlung } = world.env.origins;
  await signIn(page, world);
  await page.goto(`${zahlung}/storefronts/new`);
  await page.getByLabel("Name").fill("Luvwinkel FR");
  await page.getByLabel("Address").fill("https://fr.luvwinkel.example");
  await choose(page, "Country it sells from", "France");
  await choose(page, "Languages", "French");
  await choose(page, "Currencies", "Euro");
  await page.getByRole("button", { name: "Add the storefront" }).click();
  await expect(page.getByRole("heading", { name: "No provider is connected yet" })).toBeVisible();
  const other = new URL(page.url()).pathname;
  const own: string[] = [];
  for (const path of ["/connect", "/offer"]) {
    await page.goto(zahlung + storefront + path);
    own.push(new URL(page.url()).pathname);
  }
  await page.goto(`${zahlung}${storefront}/operate?mode=test`);
  own.push((await page.getByRole("link", { name: /^LW-/ }).first().getAttribute("href")) ?? "");
  await page.goto(`${zahlung}${storefront}/rehearse`);
  await page.getByRole("button", { name: /^Approved, Card: (passed|failed|stale)/ }).click();
  own.push((await page.getByRole("link", { name: "Every message of it" }).getAttribute("href")) ?? "");
  expect(
    own.every((path) => /^\/s\/luvwinkel-de\/\w+\/\w+_\w+$/.test(path)),
    own.join(" "),
  ).toBe(true);
  for (const path of own) {
    const elsewhere = zahlung + path.replace(storefront, other);
    expect((await page.goto(elsewhere))?.status(), path).toBe(404);
    const pressed = await page.request.post(elsewhere, {
      form: { press: "refund", amount: "1", mode: "test", field: "server-key", value: "x", document: "{}" },
      headers: { origin: zahlung },
    });
    expect([404, 405], path).toContain(pressed.status());
  }
  const run = await page.request.post(`${zahlung}${other}/rehearse`, {
    form: { press: "run", run: `${own[1]?.split("/").at(-1) ?? ""} approved` },
    headers: { origin: zahlung },
  });
  expect([404, 405]).toContain(run.status());
  letPass(quietConsole, /status of 404/);
});
