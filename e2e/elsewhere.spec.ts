import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { pick } from "./boxes";
import { carryKeys, connectNew, openDesk } from "./dashboards";
import {
  connect,
  giveShopKey,
  goToPayment,
  issueKeys,
  makeShopKey,
  orderStage,
  signIn,
  storefront,
} from "./people";
import { staysWhole } from "./whole";
import { accessible, expect, test } from "./world";

test.use({ room: "elsewhere" });

/** Offers a method on the storefront, with a stage for what matters here. */
async function offer(page: Page, zahlung: string, name: string) {
  await page.goto(`${zahlung}${storefront}/offer?add=1`);
  await page.getByRole("button", { name }).click();
  await page.getByLabel("Statement text").fill("LUVWINKEL");
  for (const [state, stage] of [
    ["captured", "Paid: to the loft"],
    ["declined", "Refused"],
  ] as const)
    await pick(page.getByLabel(`Order stage when ${state}`, { exact: true }), stage);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("saved as revision 2")).toBeVisible();
}

test("a shopper pays on a provider's own page: without money, turning back, and then well", async ({
  page,
  context,
  world,
}) => {
  const { zahlung } = world.env.origins;
  await signIn(page, world);
  const desk = await context.newPage();
  await connectNew(page, world, "ostwick");
  await carryKeys(page, desk, world, "ostwick", "test");
  await expect(page.getByText("fits the storefront")).toBeVisible();
  await giveShopKey(page, world, "test", await makeShopKey(page, "test"));
  await offer(page, zahlung, "Offer “Card on Ostwick’s page” through Ostwick");
  // Its provider has not been told of the address yet: what comes of a payment is found by look-up.
  const phone = await context.newPage();
  await phone.setViewportSize({ width: 390, height: 844 });
  await goToPayment(phone, world);
  await expect(phone.getByText("You agree on the payment service's own page")).toBeVisible();
  await accessible(phone);
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone).toHaveURL(/\/ostwick\/sandbox\/page\//);
  await phone.getByLabel("Card number").fill("9901 0100 0000 0026");
  await phone.getByRole("button", { name: /^Pay \d/ }).click();
  // The provider's page lets another card be tried; who goes back reads why the first was refused.
  await expect(phone.getByText(/The card was refused/)).toBeVisible();
  await phone.getByRole("button", { name: "Back to the shop" }).click();
  await expect(phone.getByText(/there is not enough money on it/)).toBeVisible();
  await phone.getByRole("button", { name: "Pay now" }).click();
  await phone.getByRole("button", { name: "Back to the shop" }).click();
  await expect(phone).toHaveURL(/\/pay\//);
  const checkout = phone.url();
  // From the provider's page another way can be chosen: what is under way is let go first.
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone).toHaveURL(/\/ostwick\/sandbox\/page\//);
  await phone.goto(checkout);
  await expect(phone.getByRole("heading", { name: "Please go on at the payment service" })).toBeVisible();
  await phone.getByRole("button", { name: "Pay another way" }).click();
  await phone.getByRole("button", { name: "Pay now" }).click();
  await phone.getByLabel("Card number").fill("9901010000000018");
  await phone.getByRole("button", { name: /^Pay \d/ }).click();
  await expect(orderStage(phone)).toHaveText("Paid: to the loft", { timeout: 30_000 });
});

test("a shopper pays by a code that the phone scans", async ({ page, context, world }) => {
  const { zahlung, standins } = world.env.origins;
  await signIn(page, world);
  const desk = await context.newPage();
  await connectNew(page, world, "quippa");
  await openDesk(desk, world, "quippa", "sandbox");
  await desk.getByLabel("Account").selectOption("MT60167");
  await desk.getByRole("button", { name: "Show" }).click();
  const lines = await desk.locator("dl").first().innerText();
  await page.getByRole("button", { name: "Paste several at once, test" }).click();
  await page.getByLabel("Several values, test").fill(lines);
  await page.getByRole("button", { name: "Fill the rows, test" }).click();
  await expect(page.getByText("fits the storefront")).toBeVisible();
  await page.getByRole("button", { name: "Register the webhook for me, test" }).click();
  await offer(page, zahlung, "Offer “Quippa code” through Quippa");
  const phone = await context.newPage();
  await phone.setViewportSize({ width: 390, height: 844 });
  await goToPayment(phone, world);
  const choice = phone.getByRole("radio", { name: "Quippa code" });
  if (await choice.isVisible()) {
    await choice.check();
  }
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone.getByRole("heading", { name: "Scan this with your phone" })).toBeVisible();
  await accessible(phone);
  await desk.goto(`${standins}/phone`);
  await desk.getByRole("link", { name: /Quippa: Luvwinkel Drachenbau asks for/ }).click();
  await desk.getByRole("button", { name: "Pay", exact: true }).click();
  await expect(orderStage(phone)).toHaveText("Paid: to the loft", { timeout: 30_000 });
});

test("a shopper pays with a thumb on the device, through the card connection it rides on", async ({
  page,
  context,
  world,
}) => {
  const { zahlung, standins, shop } = world.env.origins;
  await signIn(page, world);
  // Two card providers cannot both serve: the one of before makes room.
  await page.goto(`${zahlung}${storefront}/offer`);
  await page.getByRole("link", { name: "Card (Ostwick)" }).click();
  await page.getByRole("button", { name: "Switch off in test at once" }).click();
  await expect(page.getByRole("button", { name: "Switch on in test" })).toBeVisible();
  const keys = await issueKeys(page, world, "sandbox");
  await page.goto(`${zahlung}${storefront}/plan`);
  await page.getByRole("button", { name: "Connect Karvello" }).click();
  await connect(page, keys, "test");
  await expect(page.getByText("Switched on over there: Card (Norda, Celesta, Umbra)")).toBeVisible();
  await offer(page, zahlung, "Offer “Card” through Karvello");

  const desk = await context.newPage();
  await connectNew(page, world, "thumbra");
  await carryKeys(page, desk, world, "thumbra", "test");
  const coming = desk.waitForEvent("download");
  await desk.getByRole("link", { name: "Download the domain file" }).click();
  const text = readFileSync(await (await coming).path(), "utf8");
  await page
    .getByLabel("Domain file, test")
    .setInputFiles({ name: "thumbra-sandbox", mimeType: "text/plain", buffer: Buffer.from(text) });
  await desk.goto(`${shop}/keeper`);
  await desk.getByLabel("Name", { exact: true }).fill("thumbra-sandbox");
  await desk.getByLabel("Text", { exact: true }).fill(text);
  await desk.getByRole("button", { name: "Put the file there" }).click();
  await page.getByRole("button", { name: "Look, and have Thumbra look, test" }).click();
  await expect(page.getByText("Thumbra says: The file was found")).toBeVisible();
  await offer(page, zahlung, "Offer “Thumbra” through Thumbra");

  const phone = await context.newPage();
  await phone.setViewportSize({ width: 390, height: 844 });
  await goToPayment(phone, world);
  await phone.getByRole("radio", { name: "Thumbra" }).check();
  await expect(phone.getByRole("button", { name: "Pay now" })).toBeVisible();
  const checkout = phone.url();
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone.getByRole("heading", { name: "On the shopper’s device" })).toBeVisible();
  await phone.getByRole("button", { name: "No, refuse it" }).click();
  await expect(phone.getByText(/It was refused on the device/)).toBeVisible();
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone.getByRole("heading", { name: "On the shopper’s device" })).toBeVisible();
  // Whoever stays on the page is told to decide on the device, and the page goes on by itself.
  await phone.goto(checkout);
  await expect(phone.getByRole("heading", { name: "Please decide on your device" })).toBeVisible();
  await accessible(phone);
  await phone.getByRole("button", { name: "Pay another way" }).click();
  await expect(phone.getByRole("radio", { name: "Card", exact: true })).toBeVisible();
  await phone.getByRole("radio", { name: "Thumbra" }).check();
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone.getByRole("heading", { name: "On the shopper’s device" })).toBeVisible();
  await phone.goto(checkout);
  await expect(phone.getByRole("heading", { name: "Please decide on your device" })).toBeVisible();
  await desk.goto(`${standins}/phone`);
  await desk.getByRole("link", { name: /Thumbra: Luvwinkel Drachenbau asks for/ }).click();
  await desk.getByRole("button", { name: /Norda …0017 \(approved\)/ }).click();
  await expect(orderStage(phone)).toHaveText("Paid: to the loft", { timeout: 30_000 });
});

test("an address that leads nowhere says so in the shopper's language, and not to whoever keeps the shop", async ({
  browser,
  world,
}) => {
  const { zahlung } = world.env.origins;
  for (const [locale, title, direction] of [
    ["de-AT", "Hier ist nichts zu finden", "ltr"],
    ["ar", "لا يوجد شيء هنا", "rtl"],
    ["sv", "There is nothing here", "ltr"],
  ] as const) {
    const context = await browser.newContext({ locale, viewport: { width: 360, height: 740 } });
    const page = await context.newPage();
    for (const path of ["/pay/nope", "/pay/nope/back", "/pay/nope/receipt", "/buy/nope"]) {
      const response = await page.goto(zahlung + path);
      expect(response?.status(), path).toBe(404);
      await expect(page.getByRole("heading", { name: title })).toBeVisible();
      await expect(page).toHaveTitle(title);
      await expect(page.getByRole("main")).toHaveAttribute("dir", direction);
      await expect(page.getByRole("link")).toHaveCount(0);
    }
    await accessible(page);
    await staysWhole(page);
    await context.close();
  }
});
