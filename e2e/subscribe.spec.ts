import type { Page } from "@playwright/test";
import { pick, tick } from "./boxes";
import { cards, signIn, storefront, typeCard } from "./people";
import { prepareOffer } from "./prepare";
import { staysWhole } from "./whole";
import { accessible, expect, letPass, patient, test, type TestWorld } from "./world";

// Payments that repeat, by hand: a plan on the offer's sheet, subscribed to at the shop, changed here and by the shopper.

test.use({ room: "subscribe" });
test.describe.configure({ mode: "serial" });

async function signInAtShop(page: Page, world: TestWorld) {
  await page.goto(`${world.env.origins.shop}/`);
  await page.getByRole("button", { name: "English" }).click();
  await page.getByRole("link", { name: "Sign in" }).click();
  await page.getByLabel("Customer word").fill("seebrise");
  await page.getByRole("main").getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("link", { name: "Subscriptions" }).click();
}
const subscriptions = (world: TestWorld) =>
  `${world.env.origins.zahlung}${storefront}/operate/subscriptions?mode=test`;
const press = (page: Page, name: string) => page.getByRole("button", { name, exact: true }).click();

test.beforeAll(async ({ browser, world }) => {
  const page = patient(await browser.newPage());
  await prepareOffer(page, world);
  await page.close();
});

test("nobody has subscribed, and nothing is sold that repeats, before an offer has a plan", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(subscriptions(world));
  await expect(page.getByText(/nobody has subscribed in test yet/)).toBeVisible();
  await accessible(page);
  await signInAtShop(page, world);
  await expect(page.getByText("There are no subscriptions here at the moment.")).toBeVisible();
});

test("a plan is written on the offer’s sheet, with what becomes of a charge that is refused", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  await expect(page.getByText("It takes payments once.")).toBeVisible();
  await page.getByRole("button", { name: "Add a plan" }).click();
  await press(page, "Save");
  // What is missing is said at its field, and nothing is lost.
  await expect(page.getByText("Write a price in one currency at least.").first()).toBeVisible();
  await page.getByLabel("What shoppers read, German").fill("Ein Drachen je Saison");
  await page.getByLabel("What shoppers read, English").fill("A kite a season");
  await page.getByLabel("What the shop calls it").fill("season");
  await page.getByLabel("Charged every").fill("3");
  await page.getByLabel("Price of a period, EUR").fill("49,00");
  await page.getByLabel("Once, for setting up, EUR").fill("5");
  await page.getByLabel("What setting up is called, German").fill("Einrichtung");
  await page.getByLabel("What setting up is called, English").fill("Setting up");
  await pick(page.getByLabel("It begins", { exact: true }), "trial");
  await page.getByLabel("Days of trial").fill("14");
  await page.getByLabel("Tax, percent").fill("19");
  const chart = page.getByRole("group", { name: "When a charge is refused" });
  await expect(chart.getByRole("checkbox", { checked: true })).toHaveCount(6);
  await tick(chart.getByRole("checkbox", { name: "Charged again, day 2" }));
  await tick(chart.getByRole("checkbox", { name: "Ends unless paid, day 5" }));
  // What would come after the end is taken off.
  await expect(chart.getByRole("checkbox", { name: "Charged again, day 7" })).not.toBeChecked();
  await expect(chart.getByRole("checkbox", { name: "Asked by mail, day 5" })).toBeDisabled();
  await accessible(page);
  await press(page, "Save");
  await expect(page.getByText("saved as revision 3")).toBeVisible();
  await page.reload();
  await expect(page.getByLabel("Price of a period, EUR")).toHaveValue("49.00");
  const kept = page.getByRole("group", { name: "When a charge is refused" });
  await expect(kept.getByRole("checkbox", { checked: true })).toHaveCount(5);
  letPass(quietConsole, /422/);
});

test("a shopper agrees to be charged again, pays what is due now, and is seen here", async ({
  page,
  world,
  quietConsole,
}) => {
  await signInAtShop(page, world);
  await expect(page.getByText("49,00 € / 3 months + 5,00 € once (14 days of trial: 0,00 €)")).toBeVisible();
  await page.getByRole("button", { name: "Subscribe" }).click();
  await expect(page.getByText("This payment repeats")).toBeVisible();
  await expect(page.getByText("A kite a season: €49.00, charged by itself")).toBeVisible();
  await expect(page.getByText("Time between charges: 3 months")).toBeVisible();
  // Nobody is asked whether it is to be kept: that is what they agree to.
  await expect(page.getByLabel("Keep this card for my next orders")).toHaveCount(0);
  await accessible(page);
  await staysWhole(page);
  await typeCard(page, cards.sandbox.good);
  await page.getByRole("button", { name: "Yes, it is me" }).click();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await signIn(page, world);
  await page.goto(subscriptions(world));
  const row = page.getByRole("row", { name: /customer-seebrise/ });
  await expect(row).toContainText("running");
  await expect(row).toContainText("every 3 months");
  await expect(page.getByText(/In the next 30 days: 49,00.€ by 1 charge/)).toBeVisible();
  await accessible(page);
  letPass(quietConsole, /net::ERR_ABORTED/);
});

test("a person here pauses it, leaves a period out, changes and ends it", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(subscriptions(world));
  await page
    .getByRole("row", { name: /customer-seebrise/ })
    .getByRole("link")
    .click();
  await page.getByText(/What the shopper agreed to/).click();
  await expect(page.getByText("A kite a season: €49.00, charged by itself")).toBeVisible();
  await expect(page.getByRole("cell", { name: "Norda …0019" })).toBeVisible();
  await accessible(page);
  await page.getByRole("link", { name: "Norda …0019" }).click();
  await expect(page.getByRole("heading", { name: /Norda …0019/ })).toBeVisible();
  await expect(page.getByText("A kite a season: €49.00, charged by itself")).toBeVisible();
  await accessible(page);
  await page.goBack();
  await press(page, "Pause");
  await expect(page.getByText("Paused. Nothing is charged until it is gone on with.")).toBeVisible();
  await press(page, "Go on");
  await expect(page.getByText("It goes on.", { exact: true })).toBeVisible();
  await press(page, "Leave the next period out");
  await expect(page.getByRole("cell", { name: "left out", exact: true })).toBeVisible();
  await page.getByLabel("Pieces").fill("none");
  await press(page, "Change from the next period on");
  await expect(page.getByText("Write how many, from 1 to 999.")).toBeVisible();
  await page.getByLabel("Pieces").fill("2");
  await press(page, "Change from the next period on");
  await expect(page.getByText(/2 × A kite a season, 98,00.€ every 3 months/)).toBeVisible();
  await accessible(page);
  letPass(quietConsole, /422/);
});

test("the shopper does the same on a page of their own, and ends it for its period", async ({
  page,
  world,
}) => {
  await signInAtShop(page, world);
  await page.getByRole("link", { name: "What I pay with" }).click();
  await expect(page.getByRole("heading", { name: "What you subscribe to" })).toBeVisible();
  await expect(page.getByText("Charged to Norda …0019")).toBeVisible();
  await accessible(page);
  await staysWhole(page);
  const does = (name: string) => page.getByRole("button", { name: `${name}: 2 × A kite a season` }).click();
  await does("Charge to something new");
  await expect(page.getByText(/Nothing is charged today\. By going on you agree/)).toBeVisible();
  await page.getByRole("radio", { name: /^Card/ }).check({ force: true });
  await typeCard(page, cards.sandbox.celesta);
  await page.getByRole("button", { name: "Yes, it is me" }).click();
  await expect(page.getByText("Thank you. This is charged from now on")).toBeVisible();
  await expect(page).toHaveURL(/\/orders\/LW-/);
  await page.goto(`${world.env.origins.shop}/mine`);
  await expect(page.getByText("Charged to Celesta …0091")).toBeVisible();
  await does("Pause");
  await expect(page.getByText("Paused")).toBeVisible();
  await does("Go on");
  await expect(page.getByText(/€98\.00 on/)).toBeVisible();
  await does("Cancel");
  await expect(page.getByText(/^Ends on/)).toBeVisible();
  await does("Go on after all");
  await does("Cancel");
  await expect(page.getByText(/^Ends on/)).toBeVisible();
});

test("it is ended at once by a person who is asked first, and the file has it", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(subscriptions(world));
  await page
    .getByRole("row", { name: /ends with its period/ })
    .getByRole("link")
    .click();
  await press(page, "End now");
  await page.getByRole("alertdialog").getByRole("button", { name: "Leave it" }).click();
  await press(page, "End now");
  await accessible(page);
  await page.getByRole("alertdialog").getByRole("button", { name: "End it now" }).click();
  await expect(page.getByText("ended: cancelled", { exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "Pause" })).toHaveCount(0);
  await page.goto(subscriptions(world));
  const file = await page.request.get(
    `${world.env.origins.zahlung}${storefront}/operate/subscriptions.csv?mode=test`,
  );
  expect(await file.text()).toMatch(
    /LW-\d+,sub_\w+,test,customer-seebrise,season,2,every 3 months,ended,cancelled/,
  );
});
