import type { Page } from "@playwright/test";
import { pick, tick } from "./boxes";
import { giveShopKey, makeShopKey, orderStage, signIn, storefront } from "./people";
import { accessible, awake, expect, letPass, test, type TestWorld } from "./world";
import { staysWhole } from "./whole";

// Ways of paying that no provider moves: from set-up to paid, who sees them, in which order, in which language.

test.use({ room: "offline" });
test.describe.configure({ mode: "serial" });

const at = (world: TestWorld, path: string) => `${world.env.origins.zahlung}${storefront}${path}`;
/** The shop’s key for live, once it was made. */
let liveKey = "";
const stages = {
  ...{ pending: "Reserved", captured: "Paid: to the loft", cancelled: "Refused", expired: "Refused" },
  ...{ refunded: "Handed back", "partly refunded": "Under question" },
};

async function save(page: Page) {
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
}

/** A shopper with a kite in the basket, on the way to the hosted page. */
async function shopperWants(page: Page, world: TestWorld, about: Record<string, string> = {}) {
  await page.goto(world.env.origins.shop);
  await page.getByRole("listitem").filter({ hasText: "Möwe" }).getByRole("button").click();
  await page.getByRole("link", { name: "Zur Kasse" }).click();
  for (const [label, value] of Object.entries(about)) {
    const field = page.getByLabel(label);
    if ((await field.evaluate((node) => node.tagName)) === "SELECT") await pick(field, value);
    else await field.fill(value);
  }
  await page.getByRole("button", { name: "Zur Zahlung" }).click();
  await expect(page).toHaveURL(/\/pay\//);
  await awake(page);
}

test("a transfer is offered, lacks nothing, and goes live", async ({ page, world, quietConsole }) => {
  await signIn(page, world);
  await page.goto(at(world, ""));
  const forTest = await makeShopKey(page, "test");
  liveKey = await makeShopKey(page, "live");
  await giveShopKey(page, world, "test", forTest);
  await giveShopKey(page, world, "live", liveKey);
  await page.goto(at(world, "/offer"));
  await page.getByRole("button", { name: "Bank transfer" }).click();
  await expect(page.getByRole("heading", { name: "Bank transfer, without a provider" })).toBeVisible();
  await expect(page.getByText("It cannot go live yet.")).toBeVisible();
  await accessible(page);
  await page.getByLabel("Account holder").fill("Luvwinkel Drachenbau");
  await page.getByLabel("IBAN", { exact: true }).fill("DE48 9990 0000 0000 2041 01");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/its check digits are wrong/).first()).toBeVisible();
  letPass(quietConsole, /422/);
  await page.getByLabel("IBAN", { exact: true }).fill("DE49 9990 0000 0000 2041 01");
  for (const [state, stage] of Object.entries(stages))
    await pick(page.getByLabel(`Order stage when ${state}`, { exact: true }), stage);
  const words = page.getByRole("textbox", { name: "Instructions, German" });
  await words.click();
  await words.press("Control+End");
  await words.pressSequentially(" Guten Wind wünscht die Segelmacherei. ");
  const bar = page.getByRole("toolbar", { name: "Instructions, German: form" });
  await bar.getByRole("button", { name: "Link" }).click();
  const leads = page.getByLabel("Where the link leads");
  await leads.fill("javascript:alert(1)");
  await expect(page.getByText("Links begin with https://, http://, mailto: or tel:.")).toBeVisible();
  await accessible(page);
  await leads.fill("mailto:hilfe@luvwinkel.example");
  await leads.press("Enter");
  await expect(words.getByRole("link")).toHaveAttribute("href", "mailto:hilfe@luvwinkel.example");
  // Reminders are days of a chart; what would come after the end is taken off.
  const overdue = page.getByRole("group", { name: "When it is overdue" });
  await expect(overdue.getByRole("checkbox", { checked: true })).toHaveCount(2);
  await tick(overdue.getByRole("checkbox", { name: "Reminded by mail, day 7" }));
  await tick(overdue.getByRole("checkbox", { name: "Reminded by mail, day 10" }));
  await tick(overdue.getByRole("checkbox", { name: "Given up, day 9" }));
  await expect(overdue.getByRole("checkbox", { name: "Reminded by mail, day 10" })).not.toBeChecked();
  await expect(page.getByRole("spinbutton", { name: "Days overdue until it is given up" })).toHaveValue("9");
  await save(page);
  await page.reload();
  await expect(overdue.getByRole("checkbox", { checked: true })).toHaveCount(3);
  await page.getByRole("button", { name: /Put revision \d+ live/ }).click();
  await expect(page.getByText("live runs what is saved")).toBeVisible();
  await page.goto(at(world, ""));
  await expect(page.getByText(/shoppers can pay by Bank transfer/)).toBeVisible();
  await accessible(page);
});

test("a shopper orders, transfers, and the back office writes down that it came", async ({
  page,
  world,
  context,
}) => {
  await shopperWants(page, world, { Postleitzahl: "10115" });
  await page.getByLabel("Überweisung").check();
  await accessible(page);
  await page.getByRole("button", { name: "Bestellung abschicken" }).click();
  await expect(page.getByRole("heading", { name: "Ihre Bestellung ist da" })).toBeVisible();
  await expect(page.getByText("Guten Wind wünscht die Segelmacherei.")).toBeVisible();
  await expect(page.getByText("DE49 9990 0000 0000 2041 01")).toBeVisible();
  await expect(page.getByRole("img", { name: "Scannen Sie dies mit Ihrer Banking-App" })).toBeVisible();
  await expect(page.getByRole("link", { name: "mailto:hilfe@luvwinkel.example" })).toBeVisible();
  await accessible(page);
  await staysWhole(page);
  await page.getByRole("link", { name: "Zum Shop" }).click();
  await expect(orderStage(page)).toHaveText("Reserved");
  const order = (await page.getByRole("heading", { level: 1 }).innerText()).replace("Bestellung ", "");

  const office = await context.newPage();
  await signIn(office, world);
  await office.goto(at(world, "/operate/to-be-paid?mode=live"));
  await office.getByLabel(`All of order ${order} came`).check();
  await accessible(office);
  await office.getByRole("button", { name: /^All of one order came/ }).click();
  await expect(office.getByText("1 of 1 written down as paid.")).toBeVisible();
  await expect(office.getByText("nobody has to pay anything")).toBeVisible();
  await expect(orderStage(page)).toHaveText("Paid: to the loft");
  await office.goto(at(world, "/operate?mode=live"));
  await office.getByRole("link", { name: order }).click();
  await office.getByRole("heading", { name: "Money was given back" }).waitFor();
  await office
    .locator("form", { hasText: "Write down what was given back" })
    .getByLabel(/^Amount/)
    .fill("4.90");
  await office.getByRole("button", { name: "Write down what was given back" }).click();
  await expect(office.getByText("partly refunded").first()).toBeVisible();
  await accessible(office);
  await expect(orderStage(page)).toHaveText("Under question");
});

test("rules keep an offer from islands, say so in one sentence, and the mirror shows why", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/zones"));
  await page.getByLabel("Name", { exact: true }).fill("Islands");
  await page.getByLabel("Postcodes").fill("25980");
  await page.getByRole("button", { name: "Add the zone" }).click();
  await expect(page.getByText(/is none: write DE 25980/)).toBeVisible();
  letPass(quietConsole, /422/);
  await page.getByLabel("Postcodes").fill("DE 25930-25999");
  await page.getByRole("button", { name: "Add the zone" }).click();
  await expect(page.getByRole("cell", { name: "Islands", exact: true })).toBeVisible();
  await accessible(page);
  await page.goto(at(world, "/offer"));
  await pick(page.getByLabel("Add a condition about"), "zone");
  await pick(page.getByLabel("Only or never"), "not");
  await expect(page.getByText("not for what goes to Islands")).toBeVisible();
  await page.getByLabel("Postcode it goes to").fill("25980");
  await expect(page.getByText("It is not for what goes to Islands.")).toBeVisible();
  await page.getByLabel("Postcode it goes to").fill("10115");
  await expect(page.getByText("1 shown, 0 withheld for this basket.")).toBeVisible();
  await save(page);
  await accessible(page);
  await page.goto(at(world, "/offer/zones"));
  await page.getByRole("button", { name: "Remove Islands" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByText(/Rules name it/)).toBeVisible();
  letPass(quietConsole, /409/);
  // Two people change it at once: who is second hears of it, and nothing is written over.
  await page.getByRole("button", { name: "Change Islands" }).click();
  await page.getByLabel("Postcodes").fill("DE 18565");
  const other = await page.context().newPage();
  await other.goto(at(world, "/offer/zones"));
  await other.getByRole("button", { name: "Change Islands" }).click();
  await other.getByLabel("Postcodes").fill("DE 25930-25999, DE 27498");
  await other.getByRole("button", { name: "Keep the change" }).click();
  await expect(other.getByText("Islands is changed")).toBeVisible();
  await other.close();
  await page.getByRole("button", { name: "Keep the change" }).click();
  await expect(page.getByText(/Somebody changed or removed this zone meanwhile/)).toBeVisible();
  letPass(quietConsole, /422/);
  await page.getByRole("button", { name: "Leave it" }).click();
  await page.reload();
  await expect(page.getByRole("cell", { name: "DE 25930-25999, DE 27498" })).toBeVisible();

  // What it was before is there, and can be taken up again; so can one that was removed.
  await page.getByRole("link", { name: "Revisions of Islands" }).click();
  await expect(page.getByText("Postcodes: with DE 27498")).toBeVisible();
  await awake(page);
  await page.getByRole("button", { name: "Restore revision 1" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Restore it" }).click();
  await expect(page.getByText("Revision 1 holds again.")).toBeVisible();
  await expect(page.getByText("Postcodes: without DE 27498")).toBeVisible();
  await accessible(page);
  await page.goto(at(world, "/offer/zones"));
  await page.getByLabel("Name", { exact: true }).fill("Alps");
  await page.getByLabel("Postcodes").fill("AT 6*");
  await page.getByRole("button", { name: "Add the zone" }).click();
  await page.getByRole("button", { name: "Remove Alps" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Remove it" }).click();
  await expect(page.getByRole("heading", { name: "Removed zones" })).toBeVisible();
  await page.getByRole("link", { name: "Revisions of Alps" }).click();
  await expect(page.getByText("This zone is removed.")).toBeVisible();
  await awake(page);
  await page.getByRole("button", { name: "Restore revision 1" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Restore it" }).click();
  await expect(page.getByText("holds now")).toBeVisible();
  await expect(page.getByText("The zone was brought back.")).toBeVisible();
});

test("parts of one offer are set the same for others, and each revision says word by word what changed", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/alike"));
  await expect(page.getByText(/With a second one/)).toBeVisible();
  await page.goto(at(world, "/offer?add=1"));
  await page.getByRole("button", { name: "Invoice" }).click();
  await expect(page.getByRole("heading", { name: "Invoice, without a provider" })).toBeVisible();
  await page.getByLabel("Hint").first().fill("Zahlen Sie in vierzehn Tagen nach Erhalt.");
  await save(page);
  await page.getByLabel("Hint").first().fill("Zahlen Sie in dreißig Tagen nach Erhalt.");
  await save(page);
  await expect(page.getByText("saved as revision 3")).toBeVisible();
  await page
    .getByRole("link", { name: /revision/i })
    .first()
    .click();
  const newest = page.getByRole("row").filter({ hasText: "Hint, German" }).first();
  await expect(newest.locator("del")).toHaveText("vierzehn");
  await expect(newest.locator("ins")).toHaveText("dreißig");
  await accessible(page);

  await page.goto(at(world, "/offer/alike"));
  await pick(page.getByLabel("As it is set for"), { label: "Bank transfer (without a provider)" });
  await page.getByLabel("Further conditions").check();
  await page.getByLabel("Shopper countries").check();
  await page.getByRole("button", { name: "Look at what it changes" }).click();
  const preview = page.getByRole("region", { name: "What it changes" });
  await expect(preview.getByRole("row").filter({ hasText: "Invoice" })).toContainText(
    "not for what goes to Islands",
  );
  await expect(page.getByLabel("Further conditions")).toBeChecked();
  await accessible(page);
  await preview.getByRole("button", { name: "Save it for Invoice" }).click();
  await expect(page.getByText("1 offer is saved.")).toBeVisible();
  await expect(preview.getByText(/Invoice: says so already/)).toBeVisible();
});

test("what waits for live without a provider stands at the cut-over, with what it changes", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/order"));
  await page.getByRole("link", { name: "Bank transfer" }).first().click();
  await page.getByLabel("Hint").first().fill("Heute noch per Überweisung.");
  await save(page);
  await page.goto(at(world, "/cut-over"));
  const section = page.getByRole("region", { name: "Without a provider" });
  await expect(section.getByRole("listitem").filter({ hasText: "Invoice" })).toContainText(
    "Ready: nothing is lacking.",
  );
  await section.getByRole("link", { name: "Bank transfer" }).click();
  const going = page.getByRole("group", { name: "Going live of Bank transfer" });
  await expect(going.getByRole("row").filter({ hasText: "Hint, German" })).toContainText(
    "Heute noch per Überweisung.",
  );
  await accessible(page);
  await going.getByRole("button", { name: /^Put revision \d+ of Bank transfer live$/ }).click();
  await expect(section.getByRole("listitem").filter({ hasText: "Bank transfer" }).first()).toContainText(
    "Live runs what is set.",
  );
  await expect(going.getByRole("button")).toHaveCount(0);
});

test("offers are moved by a press, and by key", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/order"));
  const rows = page.getByRole("row");
  await expect(rows.first()).toContainText("Bank transfer");
  await page.getByRole("button", { name: "Move Invoice up" }).click();
  await expect(rows.first()).toContainText("Invoice");
  await accessible(page);
  await page.reload();
  await awake(page);
  await expect(rows.first()).toContainText("Invoice");
  // Picked up, moved and put down without a mouse.
  await page.getByRole("button", { name: /Drag Invoice/ }).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.press("End");
  await page.keyboard.press("Enter");
  await expect(rows.first()).toContainText("Bank transfer");
});

test("the hosted page is written from the right in Arabic, and in Danish", async ({ page, world }) => {
  const open = async (language: string) => {
    const response = await fetch(`${world.env.origins.zahlung}/api/v1/checkouts`, {
      method: "POST",
      headers: {
        authorization: `Bearer ${liveKey}`,
        "content-type": "application/json",
        "idempotency-key": `tongue-${language}`,
      },
      body: JSON.stringify({
        ...{ reference: `TONGUE-${language}`, currency: "EUR", shipping: "0", tax: "0", total: "39.00" },
        lines: [{ name: "Möwe", quantity: 1, unit: "39.00", total: "39.00" }],
        ...{ country: "DE", language, group: "retail", returnAddress: `${world.env.origins.shop}/orders/1` },
      }),
    });
    return ((await response.json()) as { address: string }).address;
  };
  await page.setViewportSize({ width: 390, height: 840 });
  await page.goto(await open("ar"));
  await expect(page.getByRole("main")).toHaveAttribute("dir", "rtl");
  await page.getByRole("radio").first().check();
  await page.getByRole("button", { name: "إرسال الطلب" }).click();
  await expect(page.getByRole("heading", { name: "تم استلام طلبك" })).toBeVisible();
  await accessible(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.goto(await open("da"));
  await expect(page.getByText("Hvordan vil du betale?")).toBeVisible();
  await accessible(page);
});
