import { expect, type Page } from "@playwright/test";
import { pick } from "./boxes";
import { connect, giveShopKey, issueKeys, makeShopKey, proveWebhook, signIn, storefront } from "./people";
import type { TestWorld } from "./world";

/** Brings a fresh world to an offered card in test mode, through the interface. */
export async function prepareOffer(page: Page, world: TestWorld, options: { capture?: "later" } = {}) {
  const keys = await issueKeys(page, world, "sandbox");
  await signIn(page, world);
  await page.getByRole("link", { name: "Choose a provider" }).click();
  await page.getByRole("button", { name: "Connect Karvello" }).click();
  await connect(page, keys, "test");
  await proveWebhook(page, "test", 0);
  const key = await makeShopKey(page, "test");
  await giveShopKey(page, world, "test", key);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  await page.getByRole("button", { name: "Offer “Card” through Karvello" }).click();
  if (options.capture === "later") await page.getByRole("radio", { name: /^Later/ }).check();
  await page.getByLabel("Statement text").fill("LUVWINKEL");
  await pick(page.getByLabel("Order stage when captured", { exact: true }), "Paid: to the loft");
  await pick(page.getByLabel("Order stage when declined", { exact: true }), "Refused");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("saved as revision 2")).toBeVisible();
}
