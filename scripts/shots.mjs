// npm run shots: renews docs/screenshots/ from the furnished demo, in a world of its own.
import { chromium } from "@playwright/test";
import { randomBytes } from "node:crypto";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromiumOptions } from "./chromium.mjs";
import { program } from "./programs.mjs";
import { buildIfStale, folder, freePort, installPackages, needChromium, root, run } from "./setup.mjs";
import { environment, forget, startWorld } from "./world.mjs";

installPackages();
needChromium();
buildIfStale();

const only = process.argv.slice(2);
const target = folder(process.env.SHOTS_FOLDER ?? join(root, "docs", "screenshots"));
const place = mkdtempSync(join(tmpdir(), "zahlung-shots-"));
const ports = {
  zahlung: await freePort(),
  standins: await freePort(),
  shop: await freePort(),
  mail: await freePort(),
};
const masterKey = randomBytes(32).toString("base64");
const env = environment(place, ports);
run(process.execPath, [program("demo/furnish.ts")], {
  ...env.zahlung,
  ZAHLUNG_MASTER_KEY: masterKey,
  NODE_ENV: "development",
  FURNISH_ENV: JSON.stringify(env),
});
const world = await startWorld(place, ports, { masterKey, logs: true });
const { zahlung, shop } = world.env.origins;
const browser = await chromium.launch(chromiumOptions);

const at = (path) => `${zahlung}/s/luvwinkel-de${path}`;
const wide = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };

async function open(viewport, colorScheme = "light") {
  const context = await browser.newContext({
    viewport,
    colorScheme,
    locale: "en-GB",
    timezoneId: "Europe/Berlin",
    deviceScaleFactor: 1,
  });
  const page = await context.newPage();
  await page.goto(`${zahlung}/sign-in`);
  await page.getByLabel("E-mail").fill(world.signIn.email);
  await page.getByLabel("Password").fill(world.signIn.password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.waitForURL(/\/s\//);
  return page;
}

async function shot(page, name, options = {}) {
  if (only.length && !only.includes(name)) return;
  await page.waitForLoadState("networkidle");
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: join(target, `${name}.png`), ...options });
  console.log(name);
}

async function toCheckout(page, mode) {
  await page.goto(`${shop}/keeper`);
  await page.getByRole("radio", { name: mode }).check();
  await page.getByRole("button", { name: /say hello/ }).click();
  await page.goto(shop);
  await page.getByRole("listitem").filter({ hasText: "Einleiner" }).getByRole("button").click();
  await page.getByRole("link", { name: "Zur Kasse" }).click();
  await page.getByLabel("Sprache").selectOption("en");
  await page.getByRole("button", { name: "Zur Zahlung" }).click();
  // The page is awake once nothing of it is under way any more.
  await page.waitForLoadState("networkidle");
  await page.getByRole("radio", { name: /^Card/ }).check();
  await page.frameLocator("iframe").getByRole("button").waitFor();
}

try {
  const page = await open(wide);
  const go = async (path, name, options) => {
    await page.goto(at(path));
    await shot(page, name, options);
  };
  await go("", "home");
  await page.goto(at("/plan"));
  await page.evaluate(() => scrollTo(0, 0));
  await shot(page, "plan");
  await page.goto(at("/plan/costs"));
  await page.locator(".recharts-line").first().waitFor();
  await shot(page, "costs", { fullPage: true });
  await go("/connect", "connect", { fullPage: true });
  await go("/exchanges?mode=live&operation=refund", "exchanges");
  await page.goto(`${zahlung}/profiles/install`);
  await page.getByLabel("Profile file").setInputFiles(join(root, "docs", "example-profile.json"));
  await page.getByRole("button", { name: "Read it" }).click();
  await page.getByRole("heading", { name: "In plain words" }).waitFor();
  await shot(page, "install", { fullPage: true });
  await go("/offer", "offer");
  await go("/offer/look", "look");
  await page.goto(at("/offer/baskets"));
  await page.getByRole("button", { name: /^Keep all/ }).click();
  await page
    .getByRole("button", { name: /^Why not, for/ })
    .first()
    .click();
  await shot(page, "baskets");
  await page.goto(at("/rehearse"));
  await page.getByRole("button", { name: /^Refund, Card: passed/ }).click();
  await page.evaluate(() => scrollTo(0, 0));
  await shot(page, "rehearse");
  await page.getByRole("button", { name: /^Answer lost, Card: passed/ }).click();
  await page.getByRole("link", { name: "Every message of it" }).click();
  await page.getByRole("heading", { name: "The score" }).waitFor();
  await shot(page, "proof");
  await go("/cut-over", "cut-over");
  await go("/operate?mode=live", "payments");
  await page.goto(at("/operate?mode=live&state=refunded"));
  await page.getByRole("row").nth(1).getByRole("link").click();
  await page.getByRole("heading", { name: "The score" }).waitFor();
  await shot(page, "payment", { fullPage: true });
  await page.goto(at("/operate/payouts?mode=live"));
  await page.getByRole("table", { name: "Payouts" }).getByRole("link").first().click();
  await page.getByRole("heading", { name: "What it comes to" }).waitFor();
  await shot(page, "payout");
  await go("/shop", "shop");
  const dark = await open(wide, "dark");
  await dark.goto(at("/operate/subscriptions?mode=live"));
  await dark.locator(".recharts-bar").first().waitFor();
  await shot(dark, "subscriptions-dark");
  const small = await open(phone);
  await toCheckout(small, "test");
  await shot(small, "checkout-phone", { fullPage: true });
  await toCheckout(page, "live");
  await shot(page, "checkout");
} finally {
  await browser.close();
  await world.end();
  forget(place);
}
