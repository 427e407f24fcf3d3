import type { Page } from "@playwright/test";
import { pick } from "./boxes";
import { carryKeys, connectNew, hangByHand } from "./dashboards";
import { giveShopKey, makeShopKey, signIn, storefront } from "./people";
import { openInParts } from "./in-parts";
import { moved, shownAfter, watchMoves } from "./seen";
import { accessible, expect, letPass, test, type TestWorld } from "./world";

// What stands on the shop's own pages: notices of instalments, from their set-up to the shopper who reads them.

test.use({ room: "embed" });
test.describe.configure({ mode: "serial" });

const at = (world: TestWorld, path: string) => `${world.env.origins.zahlung}${storefront}${path}`;
const inShop = (world: TestWorld, path: string) => `${world.env.origins.shop}${path}`;
const notice = (page: Page) => page.locator("zahlung-notice");

test("it is said where instalments are told of, and the window shows how", async ({
  page,
  context,
  world,
}) => {
  await signIn(page, world);
  await connectNew(page, world, "ratenhaus");
  const desk = await context.newPage();
  await carryKeys(page, desk, world, "ratenhaus", "test");
  await hangByHand(page, desk, "test", { keep: "Keep the address", test: "Send a test letter" });
  await page.goto(at(world, ""));
  await giveShopKey(page, world, "test", await makeShopKey(page, "test"));

  await page.goto(at(world, "/offer?add=1"));
  await page.getByRole("button", { name: "Ratenhaus instalments" }).click();
  await page.getByLabel("Name, German").fill("Ratenkauf");
  await page.getByLabel(/^Goods/).fill("189.00");
  const press = page.getByRole("button", { name: "Phone and desk" });
  await press.click();
  await pick(page.getByLabel("Moment"), { label: "On a product’s page" });
  await expect(page.getByText("Nothing is told of instalments here").first()).toBeVisible();
  await page.getByRole("button", { name: "Close" }).click();
  const places = page.getByRole("group", { name: "Where instalments are told of" });
  await places.getByLabel("Beside the price of a product").check();
  await places.getByLabel("In the basket").check();
  await places.getByLabel("On the shop’s own checkout page").check();
  await press.click();
  await pick(page.getByLabel("Moment"), { label: "On a product’s page" });
  const phone = page.getByRole("region", { name: "On a phone" });
  await expect(phone.getByText("Ab 16,70 € im Monat mit Ratenkauf")).toBeVisible();
  await accessible(page);
  await phone.getByRole("button", { name: "Alle Raten" }).click();
  await expect(phone.getByRole("dialog").getByRole("listitem").first()).toContainText("3 × 63,00");
  // Escape closes what was opened last, and leaves the window as it is.
  await page.keyboard.press("Escape");
  await expect(phone.getByRole("dialog")).toBeHidden();
  await pick(page.getByLabel("Moment"), { label: "In the basket" });
  await expect(phone.getByText("Ab 17,13 € im Monat mit Ratenkauf")).toBeVisible();
  await page.getByRole("button", { name: "Close", exact: true }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
});

test("a product’s page tells what instalments come to, stands still as it comes, and opens all plans by key", async ({
  page,
  world,
}) => {
  await watchMoves(page);
  const sent = await page.goto(inShop(world, "/goods/sturm"));
  // The shop lets its pages use no more than the guide says that is needed.
  const { zahlung } = world.env.origins;
  const policy = sent?.headers()["content-security-policy"];
  expect(policy).toContain(`script-src 'self' ${zahlung}; connect-src 'self' ${zahlung};`);
  expect(policy).toContain("default-src 'none'");
  await expect(notice(page)).toContainText("Ab 16,70 € im Monat mit Ratenkauf");
  await expect(notice(page)).toContainText("12 × 16,70 € = 200,40 € – effektiver Jahreszins 11,6 %");
  const press = page.getByRole("button", { name: "Alle Raten" });
  await expect(press).toBeVisible();
  expect(await moved(page)).toBeLessThan(0.001);
  await accessible(page);
  await press.focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: /^Ratenkauf: 189,00/ });
  await expect(dialog.getByRole("listitem")).toHaveCount(2);
  await expect(dialog.getByText(/Ein Beispiel im Sinn des Gesetzes/)).toBeVisible();
  await accessible(page);
  await page.keyboard.press("Escape");
  await expect(dialog).toBeHidden();
  await expect(press).toBeFocused();
  // In the dark, and on a phone.
  await page.emulateMedia({ colorScheme: "dark" });
  await page.setViewportSize({ width: 390, height: 844 });
  await press.click();
  await expect(dialog).toBeVisible();
  await accessible(page);
  await dialog.getByRole("button", { name: "Schließen" }).click();
  await expect(dialog).toBeHidden();
});

test("it speaks the shopper’s language, of what is in the basket, and of nothing where nothing can be offered", async ({
  page,
  world,
}) => {
  await page.goto(inShop(world, "/goods/moewe"));
  await expect(page.getByText("39,00 €")).toBeVisible();
  await expect(notice(page)).toHaveCount(0);
  await page.goto(inShop(world, "/"));
  await expect(notice(page), "it is not told of there").toHaveCount(0);
  await page.getByRole("button", { name: "English" }).click();
  await page.getByRole("link", { name: /Gale/ }).click();
  await expect(notice(page)).toContainText("From €16.70 a month with");
  await page.getByRole("button", { name: "Put into the basket" }).click();
  await expect(notice(page)).toContainText("From €17.13 a month with");
  await page.getByRole("button", { name: "All plans" }).click();
  await expect(page.getByRole("dialog")).toContainText("First payment: in 30 days");
  await page.keyboard.press("Escape");
  await page.getByRole("link", { name: "To the checkout" }).click();
  await expect(page.getByRole("heading", { name: "Checkout" })).toBeVisible();
  await expect(notice(page)).toContainText("From €17.13 a month with");
  await accessible(page);
});

test("it can be read without scripts", async ({ browser, world }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await page.goto(inShop(world, "/goods/sturm"));
  await expect(notice(page)).toContainText("Ab 16,70 € im Monat mit Ratenkauf");
  await expect(page.getByRole("button", { name: "Alle Raten" })).toHaveCount(0);
  await page.getByRole("button", { name: "In den Warenkorb" }).click();
  await expect(page.getByRole("heading", { name: "Warenkorb" })).toBeVisible();
  await context.close();
});

test("it tells once what it was sent with, also where its script was there before the page was read", async ({
  page,
  world,
}) => {
  const asked: string[] = [];
  page.on(
    "request",
    (request) => void (request.url().includes("/embed/v1/notice") && asked.push(request.url())),
  );
  await openInParts(page, inShop(world, "/goods/sturm"), "zahlung-notice");
  await expect(notice(page).getByText("Ab 16,70 € im Monat mit Ratenkauf")).toHaveCount(1);
  await expect(page.getByRole("button", { name: "Alle Raten" })).toBeVisible();
  expect(asked).toEqual([]);
});

test("a page of another origin gets nothing with it, and a page that is older than its pass says what it knows", async ({
  page,
  world,
  quietConsole,
}) => {
  await page.goto(inShop(world, "/goods/sturm"));
  const token = (await notice(page).getAttribute("token")) ?? "";
  expect(token.length).toBeGreaterThan(100);
  const address = `${world.env.origins.zahlung}/embed/v1/notice?token=${encodeURIComponent(token)}`;
  const ask = () =>
    page.evaluate(
      (from) =>
        fetch(from).then(
          (answer) => answer.status,
          () => "nothing",
        ),
      address,
    );
  expect(await ask()).toBe(200);
  await page.goto(`${world.env.origins.standins}/karvello/dashboard/sandbox`);
  expect(await ask()).toBe("nothing");
  letPass(quietConsole, /403|CORS|ERR_FAILED/);
  // The pass is over: what stands there is shown, and nothing breaks.
  await page.route(/\/embed\/v1\/notice/, (route) => route.fulfill({ status: 403, body: "over" }));
  await page.goto(inShop(world, "/goods/sturm"));
  await page.getByRole("button", { name: "Alle Raten" }).click();
  await expect(page.getByRole("dialog")).toContainText("Ab 16,70 € im Monat mit Ratenkauf");
  letPass(quietConsole, /403|CORS|ERR_FAILED/);
});

test("it is there at once, from a cold cache", async ({ browser, world }) => {
  const { loads, median, p95 } = await shownAfter(browser, "zahlung-notice", inShop(world, "/goods/sturm"));
  console.log(`   a notice with its button: median ${median} ms, p95 ${p95} ms`);
  expect(loads).toBe(20);
});
