import type { Page } from "@playwright/test";
import { carryKeys, connectNew, openDesk } from "./dashboards";
import { giveShopKey, goToPayment, makeShopKey, orderStage, signIn, storefront } from "./people";
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
    await page.getByLabel(`Order stage when ${state}`, { exact: true }).selectOption(stage);
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
  await phone.getByRole("button", { name: /^Pay / }).click();
  await expect(phone.getByText(/there is not enough money on it/)).toBeVisible();
  await phone.getByRole("button", { name: "Pay now" }).click();
  await phone.getByRole("button", { name: "Back to the shop" }).click();
  await expect(phone).toHaveURL(/\/pay\//);
  await phone.getByRole("button", { name: "Pay now" }).click();
  await phone.getByLabel("Card number").fill("9901010000000018");
  await phone.getByRole("button", { name: /^Pay / }).click();
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
    await phone.getByRole("button", { name: "Continue" }).click();
  }
  await phone.getByRole("button", { name: "Pay now" }).click();
  await expect(phone.getByRole("heading", { name: "Scan this with your phone" })).toBeVisible();
  await accessible(phone);
  await desk.goto(`${standins}/phone`);
  await desk.getByRole("link", { name: /Quippa: Luvwinkel Drachenbau asks for/ }).click();
  await desk.getByRole("button", { name: "Pay", exact: true }).click();
  await expect(orderStage(phone)).toHaveText("Paid: to the loft", { timeout: 30_000 });
});
