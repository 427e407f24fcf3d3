import { expect, type Page } from "@playwright/test";
import { awake, type TestWorld } from "./world";

export const storefront = "/s/luvwinkel-de";

/** Karvello's cards, as its dashboard and the checkout list them. */
export const cards = {
  sandbox: {
    good: "9901000000000019",
    empty: "9901000000000027",
    expired: "9901000000000035",
    wrongCode: "9901000000000043",
    asks: "9901000000000076",
    broken: "9901000000000084",
    celesta: "9902000000000091",
  },
  live: { good: "9901770000000017", empty: "9901770000000025" },
};

/** Signs in without the form, which has tests of its own, and opens the first page. */
export async function signIn(page: Page, world: TestWorld) {
  const { zahlung } = world.env.origins;
  const form = { email: world.signIn.email, password: world.signIn.password };
  await page.request.post(`${zahlung}/sign-in`, { form, headers: { origin: zahlung }, maxRedirects: 0 });
  await page.goto(zahlung);
  await expect(page.getByRole("heading", { name: "Luvwinkel DE" })).toBeVisible();
}

/** Signs in as a person does. */
export async function signInByForm(page: Page, world: TestWorld) {
  await page.goto(`${world.env.origins.zahlung}/sign-in`);
  await page.getByLabel("E-mail").fill(world.signIn.email);
  await page.getByLabel("Password").fill(world.signIn.password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Luvwinkel DE" })).toBeVisible();
  await awake(page);
}

export interface Keys {
  account: string;
  frame: string;
  server: string;
}

/** Issues keys in Karvello's dashboard, as a person does. */
export async function issueKeys(
  page: Page,
  world: TestWorld,
  side: "sandbox" | "live",
  account?: string,
): Promise<Keys> {
  const dashboard = `${world.env.origins.standins}/karvello/dashboard`;
  await page.goto(`${dashboard}/${side}`);
  if (page.url().endsWith("/sign-in")) {
    await page.getByLabel("Password").fill("ostwind-am-haff");
    await page.getByRole("button", { name: "Come in" }).click();
  }
  await page.goto(`${dashboard}/${side}${account ? `?account=${account}` : ""}`);
  const code = (await page.locator("#account-code").textContent()) ?? "";
  const issue = async (name: string) => {
    await page.getByRole("button", { name }).click();
    return (await page.locator("#issued").textContent()) ?? "";
  };
  const frame = await issue("Issue a frame key");
  return { account: code, frame, server: await issue("Issue a server key") };
}

/** Chooses from a long list by typing what it is called; a list that a moving page has closed is opened by typing again. */
export async function choose(page: Page, label: string, name: string) {
  const box = page.getByRole("combobox", { name: label });
  const option = page.getByRole("option", { name }).first();
  await expect(async () => {
    await box.fill("");
    await box.fill(name);
    await option.click({ timeout: 3_000 });
  }).toPass();
}

/** Types a value into a cell of the handshake sheet and has it proven. */
export async function enter(page: Page, label: string, mode: "test" | "live", value: string) {
  const field = page.getByLabel(`${label}, ${mode}`, { exact: true });
  await field.fill(value);
  await field.press("Enter");
}

export async function connect(page: Page, keys: Keys, mode: "test" | "live") {
  await enter(page, "Account code", mode, keys.account);
  await expect(page.getByLabel(`Replace Account code, ${mode}`)).toBeVisible();
  await enter(page, "Frame key", mode, keys.frame);
  await expect(page.getByLabel(`Replace Frame key, ${mode}`)).toBeVisible();
  await enter(page, "Server key", mode, keys.server);
  await expect(page.getByLabel(`Replace Server key, ${mode}`)).toBeVisible();
}

export async function proveWebhook(page: Page, mode: "test" | "live", nth: number) {
  await page.getByRole("button", { name: `Register the webhook for me, ${mode}` }).click();
  await page.getByRole("button", { name: `Send a test, ${mode}` }).click();
  await expect(page.getByText("a signed message arrived").nth(nth)).toBeVisible();
}

export async function makeShopKey(page: Page, mode: "test" | "live"): Promise<string> {
  await page.goto(page.url().replace(/\/s\/.*/, `${storefront}/shop`));
  await page.getByRole("button", { name: `Make a ${mode} key` }).click();
  const copy = page.getByRole("status").getByRole("button");
  return (await copy.locator("span").first().textContent()) ?? "";
}

/** The shopkeeper puts a key into the shop and says hello. */
export async function giveShopKey(page: Page, world: TestWorld, mode: "test" | "live", key: string) {
  await page.goto(`${world.env.origins.shop}/keeper`);
  await page.getByLabel(mode === "test" ? /^Test key/ : /^Live key/).fill(key);
  await page.getByRole("radio", { name: mode }).check();
  await page.getByRole("button", { name: /say hello/ }).click();
  await expect(page.getByText(`Zahlung knows this shop as Luvwinkel DE (${mode})`)).toBeVisible();
}

const goods = { tape: "Reparaturband", kite: "Einleiner „Möwe“" };

/** Puts something into the basket and goes to payment. */
export async function goToPayment(
  page: Page,
  world: TestWorld,
  good: keyof typeof goods = "kite",
  language = "en",
  wait = { awake: true },
) {
  await page.goto(world.env.origins.shop);
  await page.getByRole("listitem").filter({ hasText: goods[good] }).getByRole("button").click();
  await page.getByRole("link", { name: "Zur Kasse" }).click();
  await page.getByLabel("Sprache").selectOption(language);
  await page.getByRole("button", { name: "Zur Zahlung" }).click();
  await expect(page).toHaveURL(/\/pay\//);
  if (wait.awake) await awake(page);
}

export async function typeCard(page: Page, number: string) {
  const frame = page.frameLocator("iframe");
  await frame.getByLabel(/Card number|Kartennummer/).fill(number);
  await frame.getByLabel(/Valid until|Gültig bis/).fill("09/39");
  await frame.getByLabel(/Security code|Prüfziffer/).fill("707");
  await frame.getByLabel(/Name/).fill("Ida Haff");
  await frame.getByRole("button").click();
}

export const orderStage = (page: Page) => page.locator("#stage");

/** Refunds what is left on a payment's page, and says yes when asked about the amount. */
export async function refund(page: Page) {
  await page.getByRole("button", { name: /^Refund / }).click();
  await page
    .getByRole("alertdialog")
    .getByRole("button", { name: /^Refund / })
    .click();
}
