import type { Page } from "@playwright/test";
import { pick } from "./boxes";
import { cards, goToPayment, orderStage, signIn, storefront, typeCard } from "./people";
import { prepareOffer } from "./prepare";
import { staysWhole } from "./whole";
import { accessible, expect, letPass, patient, test, type TestWorld } from "./world";

// A card that a signed-in shopper keeps for the next time: agreed to, paid with, chosen, forgotten.

test.use({ room: "kept" });
test.describe.configure({ mode: "serial" });

const agree = "Keep this card for my next orders";
async function signInAtShop(page: Page, world: TestWorld) {
  await page.goto(`${world.env.origins.shop}/sign-in`);
  await page.getByLabel("Kundenwort").fill("seebrise");
  await page.getByRole("button", { name: "Anmelden" }).click();
  await expect(page.getByRole("link", { name: "Ida Möwe" })).toBeVisible();
}
async function isPaid(page: Page) {
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await expect(orderStage(page)).toHaveText("Paid: to the loft");
}

test.beforeAll(async ({ browser, world }) => {
  const page = patient(await browser.newPage());
  await prepareOffer(page, world);
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  await pick(page.getByLabel("What shoppers pay with, for the next time"), "storefront");
  // From its top, where the bar of Save lies over nothing that is half seen.
  await page.evaluate(() => window.scrollTo(0, 0));
  await accessible(page);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("saved as revision 3")).toBeVisible();
  await page.close();
});

test("whoever is not signed in at the shop is not asked", async ({ page, world }) => {
  await goToPayment(page, world, "tape");
  await expect(page.frameLocator("iframe").getByLabel(/Card number/)).toBeVisible();
  await expect(page.getByLabel(agree)).toHaveCount(0);
});

test("a card is kept where the shopper agrees, and pays the next order with one press", async ({
  page,
  world,
  quietConsole,
}) => {
  await signInAtShop(page, world);
  await goToPayment(page, world, "tape");
  await accessible(page);
  await page.getByLabel(agree).check();
  await typeCard(page, cards.sandbox.good);
  // Whoever has a card kept shows the issuer once who they are.
  await page.getByRole("button", { name: "Yes, it is me" }).click();
  await isPaid(page);
  await goToPayment(page, world, "tape");
  await accessible(page);
  await staysWhole(page);
  await page.getByRole("button", { name: "Pay with Norda …0019" }).click();
  await isPaid(page);
  // An order that nobody agreed to keep anything of adds nothing.
  await goToPayment(page, world, "tape");
  await typeCard(page, cards.sandbox.good);
  await isPaid(page);
  await page.goto(`${world.env.origins.shop}/mine`);
  await expect(page.getByRole("form")).toHaveCount(1);
  letPass(quietConsole, /net::ERR_ABORTED/);
});

test("it pays without scripts as well", async ({ page, browser, world }) => {
  await signInAtShop(page, world);
  await goToPayment(page, world, "tape");
  const plain = await browser.newContext({ javaScriptEnabled: false });
  const bare = await plain.newPage();
  await bare.goto(page.url());
  await bare.getByRole("button", { name: "Pay with Norda …0019" }).click();
  await expect(bare.getByRole("heading", { name: "Paid. Thank you" })).toBeVisible();
  await plain.close();
});

test("the shopper sees what is kept on a page of their own, and has it forgotten", async ({
  page,
  world,
  quietConsole,
}) => {
  await signInAtShop(page, world);
  await page.getByRole("link", { name: "Womit ich bezahle" }).click();
  await expect(page).toHaveURL(/\/mine\//);
  await expect(page.getByRole("heading", { name: "Womit Sie bezahlen" })).toBeVisible();
  await expect(page.getByText("Norda …0019")).toBeVisible();
  await expect(page.getByText("endet am 30. September 2039")).toBeVisible();
  await page.getByText("Ihr Name dafür").first().click();
  await page.getByRole("textbox", { name: "Ihr Name dafür: Norda …0019" }).fill("Omas Karte");
  await accessible(page);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Omas Karte · Norda …0019")).toBeVisible();
  await accessible(page);
  await staysWhole(page);
  await page.getByRole("button", { name: "Vergessen: Omas Karte · Norda …0019" }).click();
  await expect(page.getByText("Nichts ist gemerkt.")).toBeVisible();
  await accessible(page);
  await page.getByRole("link", { name: "Zurück zum Shop" }).click();
  await expect(page).toHaveURL(`${world.env.origins.shop}/`);
  await goToPayment(page, world, "tape");
  await expect(page.frameLocator("iframe").getByLabel(/Card number/)).toBeVisible();
  await expect(page.getByRole("button", { name: /Pay with/ })).toHaveCount(0);
  // An address that nobody was given, or that is over.
  await page.goto(`${world.env.origins.zahlung}/mine/s1.a.b.c`);
  await expect(page.getByText("This page is over. Open it again in the shop.")).toBeVisible();
  await accessible(page);
  letPass(quietConsole, /410/);
});

test("a person here sees what is kept, whose and by which words, and has it forgotten", async ({
  page,
  world,
}) => {
  await signInAtShop(page, world);
  await goToPayment(page, world, "tape");
  await page.getByLabel(agree).check();
  await typeCard(page, cards.sandbox.celesta);
  await page.getByRole("button", { name: "Yes, it is me" }).click();
  await isPaid(page);
  await signIn(page, world);
  const at = `${world.env.origins.zahlung}${storefront}/operate/kept`;
  await page.goto(`${at}?mode=live`);
  await expect(page.getByText("no shopper has kept anything in live yet", { exact: false })).toBeVisible();
  await accessible(page);
  await page.goto(`${at}?mode=test`);
  const rows = page.getByRole("row", { name: /customer-seebrise/ });
  await expect(rows.first()).toContainText("Celesta …0091");
  await expect(rows.last()).toContainText("forgotten");
  const count = await rows.count();
  await accessible(page);
  await page.getByLabel("Shopper").fill("nobody");
  await expect(page.getByText("nothing is kept of “nobody” in test")).toBeVisible();
  await page.goto(`${at}?mode=test&q=customer-seebrise`);
  await expect(rows).toHaveCount(count);
  await rows.first().getByRole("link").first().click();
  await expect(page.getByText("Keep this card for my next orders")).toBeVisible();
  await expect(page.getByText("No subscription.")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Have it forgotten" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Leave it" }).click();
  await page.getByRole("button", { name: "Have it forgotten" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Have it forgotten" }).click();
  await expect(
    page.getByText("Forgotten here. The provider forgets it as soon as it answers."),
  ).toBeVisible();
  await page.getByRole("link", { name: "All that is kept" }).click();
  await expect(rows.first()).toContainText("forgotten");
});
