import type { Page } from "@playwright/test";
import { pick } from "./boxes";
import { connectNew } from "./dashboards";
import { giveShopKey, goToPayment, makeShopKey, signIn, storefront } from "./people";
import { staysWhole } from "./whole";
import { openInParts } from "./in-parts";
import { moved, shownAfter, watchMoves } from "./seen";
import { accessible, expect, letPass, test, type TestWorld } from "./world";

// Buttons that pay, from their set-up to the shopper who buys by one, and to everything that can go wrong on the way.

test.use({ room: "buttons" });
test.describe.configure({ mode: "serial" });

const at = (world: TestWorld, path: string) => `${world.env.origins.zahlung}${storefront}${path}`;
const inShop = (world: TestWorld, path: string) => `${world.env.origins.shop}${path}`;
const button = (page: Page) => page.getByRole("button", { name: "Mit Pennywhistle kaufen" });
const home = (page: Page, town: string) => page.getByRole("button", { name: new RegExp(town) });
const lastLook = (page: Page) => page.getByRole("heading", { name: "Bitte sehen Sie noch einmal nach" });
const order = (page: Page) => page.getByRole("button", { name: "Zahlungspflichtig bestellen" });

/** Presses the button on a kite's page, and stands at the wallet. A shop whose machine is busy may show a page without it. */
async function press(page: Page, world: TestWorld, path = "/goods/moewe") {
  await expect(async () => {
    await page.goto(inShop(world, path));
    await expect(button(page)).toBeVisible({ timeout: 5_000 });
  }).toPass();
  await button(page).click();
  await expect(page.getByRole("heading", { name: "Send it to" })).toBeVisible();
}
/** Has it sent to Germany, and agrees. */
async function agree(page: Page, does = "Agree and pay") {
  await home(page, "Helgoland").click();
  await page.getByRole("button", { name: does, exact: true }).click();
}
/** How the shop behaves when it is asked. */
async function behave(page: Page, world: TestWorld, { soldOut = "", slow = "0" }) {
  await page.goto(inShop(world, "/keeper"));
  await page.getByLabel(/^Sold out/).fill(soldOut);
  await page.getByLabel(/^Milliseconds/).fill(slow);
  await page.getByRole("button", { name: "Behave like that" }).click();
}
const orders = async (page: Page, world: TestWorld) => {
  await page.goto(inShop(world, "/keeper/orders"));
  return (await page.getByRole("row").count()) - 1;
};

test("it is said where the button stands, and how it looks out of what the provider allows", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await connectNew(page, world, "pennywhistle");
  await page.getByRole("button", { name: "Link the account, test" }).click();
  await page.getByRole("button", { name: "Agree" }).click();
  await page.getByRole("button", { name: "Register the webhook for me, test" }).click();
  await page.getByRole("button", { name: "Send a test, test" }).click();
  await page.goto(at(world, ""));
  await giveShopKey(page, world, "test", await makeShopKey(page, "test"));
  await page.goto(at(world, "/offer?add=1"));
  await page.getByRole("button", { name: "Offer “Pennywhistle” through Pennywhistle" }).click();
  const places = page.getByRole("group", { name: "A button that pays at once" });
  await expect(places.getByLabel("Its colour")).toHaveCount(0);
  await places.getByLabel(/^On a product’s page/).check();
  await places.getByLabel("In the basket", { exact: true }).check();
  await places.getByLabel(/^In the small basket/).check();
  await places.getByLabel(/^On the shop’s own checkout/).check();
  await pick(places.getByLabel("Its colour"), { label: "Reed" });
  await pick(places.getByLabel("Its corners"), { label: "Square corners" });
  await pick(places.getByLabel("How high it is"), { label: "Large, 56 px" });
  await expect(places.getByRole("img", { name: /^Buy with Pennywhistle, as shoppers see it/ })).toBeVisible();
  // The window shows it in the shopper's language, as it is typed.
  await page.getByRole("button", { name: "Phone and desk" }).click();
  await pick(page.getByLabel("Moment"), { label: "In the basket" });
  const phone = page.getByRole("region", { name: "On a phone" });
  await expect(phone.getByRole("img", { name: /^Mit Pennywhistle kaufen/ })).toBeVisible();
  await page.getByRole("button", { name: "Close", exact: true }).click();
  await accessible(page);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
  await page.reload();
  await expect(places.getByLabel("Its colour")).toContainText("Reed");
});

test("it says what it does, also where its script was there before the page was read", async ({
  page,
  world,
}) => {
  await openInParts(page, inShop(world, "/goods/moewe"), "zahlung-button");
  await expect(button(page)).toBeVisible();
  await expect(page.locator("zahlung-button")).toHaveCount(1);
});

test("a product is bought by it: to another country, with its delivery, looked at once more, ordered and paid", async ({
  page,
  world,
}) => {
  await watchMoves(page);
  await page.goto(inShop(world, "/goods/moewe"));
  await expect(button(page)).toBeVisible();
  expect(await moved(page)).toBeLessThan(0.001);
  expect((await button(page).boundingBox())?.height).toBe(56);
  await accessible(page);
  // By key alone.
  await button(page).focus();
  await page.keyboard.press("Enter");
  await home(page, "Tromsø").click();
  await expect(page.getByRole("alert")).toHaveText("Dorthin liefern wir nicht.");
  await expect(page.getByRole("button", { name: "Agree and pay" })).toHaveCount(0);
  await home(page, "Innsbruck").click();
  await expect(page.locator("#sum")).toHaveText("48.80 EUR");
  await home(page, "Helgoland").click();
  await expect(page.locator("#sum")).toHaveText("43.90 EUR");
  await page.getByRole("button", { name: /^Abholung|^Selbst|^Abholen/ }).click();
  await expect(page.locator("#sum")).toHaveText("39.00 EUR");
  await page.getByRole("button", { name: /^✓? ?Paket/ }).click();
  await page.getByRole("button", { name: "Agree and pay" }).click();
  await expect(lastLook(page)).toBeVisible();
  await expect(page.getByText("Am Alten Deich 7, 27498 Helgoland, Deutschland")).toBeVisible();
  await expect(page.getByText("43,90 €")).toBeVisible();
  await accessible(page);
  await page.emulateMedia({ colorScheme: "dark" });
  await page.setViewportSize({ width: 390, height: 844 });
  await accessible(page);
  await staysWhole(page);
  await order(page).click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await expect(page.locator("#state")).toHaveText("(captured)");
});

test("the basket is bought by it, and is empty after that; two windows of it make one order", async ({
  page,
  context,
  world,
}) => {
  await page.goto(inShop(world, "/goods/leine"));
  await page.getByRole("button", { name: "In den Warenkorb" }).click();
  const second = await context.newPage();
  await press(second, world, "/basket");
  await press(page, world, "/basket");
  await agree(page);
  await agree(second);
  await expect(lastLook(second)).toBeVisible();
  await order(page).click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await order(second).click();
  await expect(second.getByText(/in einem anderen Fenster bestellt/)).toBeVisible();
  await accessible(second);
  await page.goto(inShop(world, "/basket"));
  await expect(page.getByRole("heading", { name: "Der Warenkorb ist leer" })).toBeVisible();
});

test("the small basket and the checkout have it too, for the same purchase as the basket", async ({
  page,
  context,
  world,
}) => {
  await page.goto(inShop(world, "/goods/leine"));
  await expect(page.locator("details")).toHaveCount(0);
  await page.getByRole("button", { name: "In den Warenkorb" }).click();
  await watchMoves(page);
  await page.goto(inShop(world, "/"));
  // By key alone: it opens, and the button is in it.
  const small = page.locator("details");
  await small.locator("summary").focus();
  await page.keyboard.press("Enter");
  await expect(button(page)).toBeVisible();
  await accessible(page);
  await page.keyboard.press("Tab");
  await expect(button(page)).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Send it to" })).toBeVisible();
  const second = await context.newPage();
  await watchMoves(second);
  await second.goto(inShop(world, "/basket"));
  await second.getByRole("link", { name: "Zur Kasse" }).click();
  await expect(button(second)).toBeVisible();
  expect(await moved(second)).toBeLessThan(0.001);
  await accessible(second);
  await button(second).click();
  await agree(second);
  await order(second).click();
  await expect(second).toHaveURL(/\/orders\/LW-/);
  // What was pressed in the small basket is ordered already, and nothing more is asked of the wallet.
  await home(page, "Helgoland").click();
  await expect(page.getByRole("alert")).toContainText("in einem anderen Fenster bestellt");
  await expect(page.getByRole("button", { name: "Agree and pay" })).toHaveCount(0);
  await page.goto(inShop(world, "/checkout"));
  await expect(page.getByRole("heading", { name: "Der Warenkorb ist leer" })).toBeVisible();
});

test("whoever leaves, goes back or comes back finds nothing ordered and the button as it was", async ({
  page,
  world,
}) => {
  const before = await orders(page, world);
  await press(page, world);
  await page.getByRole("button", { name: "Back to the shop" }).click();
  await expect(page.getByRole("heading", { name: "Es wurde nichts bestellt" })).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Zurück zum Shop" }).click();
  await expect(page).toHaveURL(inShop(world, "/basket"));
  await press(page, world);
  await page.goBack();
  await expect(button(page)).toBeVisible();
  await button(page).click();
  await agree(page);
  await expect(lastLook(page)).toBeVisible();
  const there = page.url();
  await page.getByRole("button", { name: "Zurück zum Shop" }).click();
  await expect(page).toHaveURL(inShop(world, "/basket"));
  await page.goto(there);
  await expect(page.getByRole("heading", { name: "Es wurde nichts bestellt" })).toBeVisible();
  expect(await orders(page, world)).toBe(before);
});

test("a shop that is silent, or has sold the last one, is told in words, and nothing is charged", async ({
  page,
  context,
  world,
}) => {
  const keeper = await context.newPage();
  const before = await orders(keeper, world);
  await press(page, world);
  await behave(keeper, world, { slow: "5000" });
  await home(page, "Helgoland").click();
  await expect(page.getByRole("alert")).toHaveText(
    "Der Shop antwortet gerade nicht. Es ist noch nichts bezahlt.",
  );
  await behave(keeper, world, {});
  await agree(page);
  await behave(keeper, world, { slow: "5000" });
  await order(page).click();
  await expect(page.getByRole("heading", { name: "Der Shop antwortet nicht" })).toBeVisible();
  await accessible(page);
  await behave(keeper, world, { soldOut: "moewe" });
  // The order was made all the same when the shop was slow; it is the same one that it answers with now.
  await page.getByRole("button", { name: "Noch einmal versuchen" }).click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  expect(await orders(keeper, world)).toBe(before + 1);
  await press(page, world);
  await home(page, "Helgoland").click();
  await expect(page.getByRole("alert")).toHaveText("Ausverkauft.");
  await behave(keeper, world, {});
  await agree(page);
  await behave(keeper, world, { soldOut: "moewe" });
  await order(page).click();
  await expect(page.getByText("Ausverkauft.")).toBeVisible();
  await behave(keeper, world, {});
  expect(await orders(keeper, world)).toBe(before + 1);
});

test("an empty purse leaves the order to be paid another way", async ({ page, world }) => {
  await press(page, world);
  await agree(page, "Agree, with an empty purse");
  await order(page).click();
  await expect(page).toHaveURL(/\/pay\//);
  await expect(page.getByRole("alert")).toContainText("Das Guthaben reicht nicht.");
  await expect(page.getByRole("group", { name: "Wie möchten Sie bezahlen?" })).toBeVisible();
});

test("a wallet that cannot be reached is said beside the button, which can be pressed again", async ({
  page,
  world,
  quietConsole,
}) => {
  await page.goto(inShop(world, "/goods/moewe"));
  await page.route(/\/embed\/v1\/press/, (route) => route.fulfill({ status: 503, body: "down" }));
  await button(page).click();
  await expect(page.getByRole("alert")).toContainText("Es wurde nichts bestellt und nichts abgebucht.");
  await accessible(page);
  await page.unroute(/\/embed\/v1\/press/);
  await button(page).click();
  await expect(page.getByRole("heading", { name: "Send it to" })).toBeVisible();
  letPass(quietConsole, /503|CORS|ERR_FAILED/);
});

test("without scripts it is a form that does the same", async ({ browser, world }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await press(page, world);
  await agree(page);
  await expect(lastLook(page)).toBeVisible();
  await order(page).click();
  await expect(page.getByText("Bezahlt. Vielen Dank")).toBeVisible();
  await context.close();
});

test("the last look is at the shop where the offer says so", async ({ page, context, world }) => {
  const desk = await context.newPage();
  await signIn(desk, world);
  await desk.goto(at(world, "/offer/order"));
  await desk
    .getByRole("link", { name: /Pennywhistle/ })
    .first()
    .click();
  await pick(desk.getByLabel("A last look before the order"), { label: "On a page of the shop’s" });
  await desk.getByRole("button", { name: "Save", exact: true }).click();
  await expect(desk.getByText(/saved as revision/)).toBeVisible();
  await press(page, world);
  await agree(page);
  await expect(page).toHaveURL(/\/purchase\?purchase=btn_/);
  await expect(page.getByText("43,90 €")).toBeVisible();
  await page.locator("main").getByRole("button").click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
});

test("the wallet is remembered for a shopper who is signed in, and pays the next order with one press", async ({
  page,
  context,
  world,
  quietConsole,
}) => {
  const desk = await context.newPage();
  await signIn(desk, world);
  await desk.goto(at(world, "/offer/order"));
  await desk
    .getByRole("link", { name: /Pennywhistle/ })
    .first()
    .click();
  await pick(desk.getByLabel("What shoppers pay with, for the next time"), "storefront");
  await desk.getByRole("button", { name: "Save", exact: true }).click();
  await expect(desk.getByText(/saved as revision/)).toBeVisible();
  await page.goto(inShop(world, "/sign-in"));
  await page.getByLabel("Kundenwort").fill("seebrise");
  await page.getByRole("button", { name: "Anmelden" }).click();
  const paid = async () => expect(page).toHaveURL(/\/orders\/LW-/);
  await goToPayment(page, world);
  await expect(page.getByText(/remembers that you agreed, the shop only its name/)).toBeVisible();
  await accessible(page);
  await staysWhole(page);
  await page.getByLabel("Remember this for my next orders").check();
  await page.getByRole("button", { name: "Pay now" }).click();
  await page.getByRole("button", { name: "Agree and pay", exact: true }).click();
  await paid();
  await goToPayment(page, world);
  await expect(page.getByText("Something else")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: /^Pay with Purse …/ }).click();
  await paid();
  letPass(quietConsole, /net::ERR_ABORTED/);
});

test("it is there at once, from a cold cache", async ({ browser, world }) => {
  const { loads, median, p95 } = await shownAfter(browser, "zahlung-button", inShop(world, "/goods/moewe"));
  console.log(`   a button that pays: median ${median} ms, p95 ${p95} ms`);
  expect(loads).toBe(20);
});
