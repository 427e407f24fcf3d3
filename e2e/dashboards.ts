import { expect, type Page } from "@playwright/test";
import { enter } from "./people";
import type { TestWorld } from "./world";

type Side = "sandbox" | "live";

/** What one needs to know to look after an account at each provider: the way in, and where each value stands. */
const desks = {
  ostwick: {
    name: "Ostwick",
    password: "leuchtfeuer-am-riff",
    fields: { "Outlet ID": "#outlet-id", "Signing passphrase": "#passphrase" },
  },
  quippa: {
    name: "Quippa",
    password: "drachen-ueber-kamome",
    fields: { "Merchant ID": "#merchant-id", "API key": "#api-key", "Notice key": "#notice-key" },
  },
  thumbra: {
    name: "Thumbra",
    password: "daumen-auf-glas",
    fields: { "Seller name": "#seller", "Seller key": "#seller-key" },
  },
  ratenhaus: {
    name: "Ratenhaus",
    password: "zwoelf-mal-zwoelf",
    fields: {
      "House name": "#house-name",
      "House password": "#house-password",
      "Secret for letters": "#letter-secret",
    },
  },
  pennywhistle: { name: "Pennywhistle", password: "drei-toene-tief", fields: {} },
} satisfies Record<string, { name: string; password: string; fields: Record<string, string> }>;
export type Provider = keyof typeof desks;

/** A provider's dashboard, open on one side. */
export async function openDesk(page: Page, world: TestWorld, provider: Provider, side: Side) {
  const dashboard = `${world.env.origins.standins}/${provider}/dashboard`;
  await page.goto(`${dashboard}/${side}`);
  if (page.url().endsWith("/sign-in")) {
    await page.getByLabel("Password").fill(desks[provider].password);
    await page.getByRole("button", { name: "Come in" }).click();
    await page.goto(`${dashboard}/${side}`);
  }
}

export const shown = async (page: Page, selector: string) =>
  ((await page.locator(selector).textContent()) ?? "").trim();

/** Goes from the plan to a provider's handshake sheet. */
export async function connectNew(
  page: Page,
  world: TestWorld,
  provider: Provider,
  storefront = "luvwinkel-de",
) {
  await page.goto(`${world.env.origins.zahlung}/s/${storefront}/plan`);
  await page.getByRole("button", { name: `Connect ${desks[provider].name}` }).click();
  await expect(page.getByRole("heading", { name: `Handshake with ${desks[provider].name}` })).toBeVisible();
}

/** Carries every value that the dashboard shows to the sheet. */
export async function carryKeys(
  page: Page,
  desk: Page,
  world: TestWorld,
  provider: Provider,
  mode: "test" | "live",
) {
  await openDesk(desk, world, provider, mode === "test" ? "sandbox" : "live");
  for (const [label, selector] of Object.entries(desks[provider].fields)) {
    await enter(page, label, mode, await shown(desk, selector));
    await expect(page.getByLabel(`Replace ${label}, ${mode}`)).toBeVisible();
  }
}

/** The webhook address on the sheet, as one copies it. */
export async function webhookAddress(page: Page, mode: "test" | "live") {
  const addresses = page.getByText(/\/hooks\//);
  const text = await addresses.nth(mode === "test" ? 0 : 1).textContent();
  return (text ?? "").trim();
}

/** Makes the address known by hand in the dashboard, and has a test message sent. */
export async function hangByHand(
  page: Page,
  desk: Page,
  mode: "test" | "live",
  words: { keep: string; test: string },
) {
  await desk.locator("input[name=address]").fill(await webhookAddress(page, mode));
  await desk.getByRole("button", { name: words.keep }).click();
  await desk.getByRole("button", { name: words.test }).click();
}
