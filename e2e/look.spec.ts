import type { Page } from "@playwright/test";
import { pick } from "./boxes";
import { signIn, storefront } from "./people";
import { staysWhole } from "./whole";
import { accessible, awake, expect, letPass, patient, test, type TestWorld } from "./world";

// How the shop's pages look to its shoppers, what they agree to, the receipts they get, and the baskets that show who is
// offered what.

test.use({ room: "look" });
test.describe.configure({ mode: "serial" });

const at = (world: TestWorld, path: string) => `${world.env.origins.zahlung}${storefront}${path}`;
const logo = `<svg xmlns="http://www.w3.org/2000/svg" width="240" height="60"><script>alert(1)</script>
  <path d="M30 5 50 30 30 55 10 30Z" fill="#f0602f"/></svg>`;
const letters = async (page: Page, world: TestWorld) => {
  const answer = await page.request.get(`${world.env.origins.standins}/mail/letters`);
  return ((await answer.json()) as { letters: { subject: string; to: string; text: string; html: string }[] })
    .letters;
};
let sheet = "";

test("a look is chosen, held to what can be read, and put live", async ({ page, world, quietConsole }) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer"));
  await page.getByRole("button", { name: "Bank transfer" }).click();
  await expect(page.getByRole("heading", { name: "Bank transfer, without a provider" })).toBeVisible();
  sheet = page.url();
  await page.getByLabel("Account holder").fill("Luvwinkel Drachenbau");
  await page.getByLabel("IBAN", { exact: true }).fill("DE49 9990 0000 0000 2041 01");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();

  await page.goto(at(world, "/offer/look/revisions"));
  await expect(page.getByText("Nothing was saved yet.")).toBeVisible();
  await page.goto(at(world, "/offer/look"));
  await awake(page);
  await expect(page.getByRole("link", { name: "Earlier looks" })).toHaveCount(0);
  await expect(page.getByText("Live shoppers see this look", { exact: true })).toBeVisible();
  await page.getByLabel("Accent, written").fill("#ffd400");
  await expect(page.getByText(/^Hard to read: 1\.\d+ to 1/)).toBeVisible();
  await page.getByRole("button", { name: /^Take #/ }).click();
  await expect(page.getByText(/^Hard to read/)).toHaveCount(0);
  const preview = page.getByRole("region", { name: "A checkout with this look" }).locator("> div");
  const ground = () => preview.evaluate((node) => getComputedStyle(node).backgroundColor);
  const ink = () => preview.evaluate((node) => getComputedStyle(node).color);
  await pick(page.getByLabel("Light", { exact: true }), "Always dark");
  await page.getByLabel("Ground, written").fill("#101820");
  await expect.poll(ground).toBe("rgb(16, 24, 32)");
  expect(await ink()).toBe("rgb(236, 231, 219)");
  await page.emulateMedia({ colorScheme: "dark" });
  await pick(page.getByLabel("Light", { exact: true }), "Always light");
  await page.getByLabel("Ground, written").fill("#eef4e0");
  await expect.poll(ground).toBe("rgb(238, 244, 224)");
  expect(await ink()).toBe("rgb(28, 37, 48)");
  await page.emulateMedia({ colorScheme: "light" });
  await pick(page.getByLabel("Corners"), "Round");
  await pick(page.getByLabel("Terms of sale"), "The shopper has to agree");
  await page.getByLabel("E-mail for questions").fill("hilfe@luvwinkel.example");
  await page.getByLabel("Send shoppers their receipts by e-mail").check();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Say where the terms stand, in one language at least.")).toBeVisible();
  letPass(quietConsole, /422/);
  await page.getByLabel("Choose again what the same e-mail address was paid with last").check();
  await page.getByLabel("Terms in German").fill(`${world.env.origins.shop}/agb`);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Checkouts in test look like this from now on.")).toBeVisible();
  await page.getByLabel("Logo", { exact: true }).setInputFiles({
    ...{ name: "none.png", mimeType: "image/png" },
    buffer: Buffer.from("no picture"),
  });
  await expect(page.getByText(/This is not a picture that can be read/)).toBeVisible();
  letPass(quietConsole, /422/);
  await page.getByLabel("Logo", { exact: true }).setInputFiles({
    ...{ name: "logo.svg", mimeType: "image/svg+xml" },
    buffer: Buffer.from(logo),
  });
  await expect(page.getByRole("img", { name: "The logo" })).toBeVisible();
  await expect(page.getByText("Live shoppers see the plain look")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Put it live" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Put it live" }).click();
  await expect(page.getByText("Live shoppers see this look", { exact: true })).toBeVisible();
});

test("an earlier look is held against another, and worked on again", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/look"));
  await awake(page);
  await page.getByLabel("E-mail for questions").fill("fragen@luvwinkel.example");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Checkouts in test look like this from now on.")).toBeVisible();
  await page.getByRole("link", { name: "Earlier looks" }).click();
  // The newest stands first, under the head.
  const row = (number: number, newest: number) =>
    page
      .getByRole("table", { name: "Revisions" })
      .getByRole("row")
      .nth(1 + newest - number);
  await expect(row(3, 3)).toContainText("hilfe@luvwinkel.example → fragen@luvwinkel.example");
  await expect(row(3, 3)).toContainText("Test");
  await expect(row(2, 3)).toContainText("Live");
  await expect(row(2, 3).getByRole("img", { name: "The logo" })).toBeVisible();
  await pick(page.getByLabel("Compare revision"), "1");
  await pick(page.getByLabel("with revision"), "3");
  await page.getByRole("button", { name: "Compare", exact: true }).click();
  const differences = page.getByRole("table", { name: "What differs" });
  await expect(differences.getByRole("row")).toHaveCount(3);
  await expect(differences.getByRole("row", { name: /^E-mail for questions/ })).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Restore revision 2" }).click();
  await page.getByRole("alertdialog").getByRole("button", { name: "Restore it" }).click();
  await expect(page.getByText("Revision 2 is the look that is worked on again.")).toBeVisible();
  await expect(row(4, 4)).toContainText("fragen@luvwinkel.example → hilfe@luvwinkel.example");
  await page.goto(at(world, "/offer/look"));
  await expect(page.getByLabel("E-mail for questions")).toHaveValue("hilfe@luvwinkel.example");
  await expect(page.getByText("Live shoppers see this look", { exact: true })).toBeVisible();
});

test("two people who change one look see both versions, and what is typed outlives a reload", async ({
  page,
  world,
  browser,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/look"));
  await awake(page);
  const context = await browser.newContext();
  const other = patient(await context.newPage());
  await signIn(other, world);
  await other.goto(at(world, "/offer/look"));
  await awake(other);

  // What only the other changed is taken in; what was typed stays, also over a reload.
  await page.getByLabel("Page with help").fill("https://hilfe.example/");
  await other.getByLabel("Telephone for questions").fill("+49 4321 7788");
  await other.getByRole("button", { name: "Save", exact: true }).click();
  await expect(other.getByText("Checkouts in test look like this from now on.")).toBeVisible();
  await expect(page.getByText(/Taken in: Telephone for questions/)).toBeVisible();
  await page.reload();
  await awake(page);
  await expect(page.getByLabel("Page with help")).toHaveValue("https://hilfe.example/");
  await expect(page.getByLabel("Telephone for questions")).toHaveValue("+49 4321 7788");
  await expect(page.getByText("Not saved yet")).toBeVisible();

  // What both changed is shown side by side, and nothing is saved before somebody has chosen.
  await pick(other.getByLabel("Corners"), "Square");
  await other.getByLabel("Page with help").fill("https://fragen.example/");
  await other.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Somebody saved this look meanwhile.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
  await expect(page.getByText("https://fragen.example/")).toBeVisible();
  await accessible(page);
  await page.getByRole("radio", { name: "Page with help: theirs" }).check({ force: true });
  await page.getByRole("button", { name: "Go on with these" }).click();
  await expect(page.getByLabel("Page with help")).toHaveValue("https://fragen.example/");
  await expect(page.getByText("Not saved yet")).toHaveCount(0);
  await page.getByLabel("E-mail for questions").fill("fragen@luvwinkel.example");
  await page.getByRole("button", { name: "Discard" }).click();
  await expect(page.getByLabel("E-mail for questions")).toHaveValue("hilfe@luvwinkel.example");

  // The same with the storefront's own settings: both values are said before the second replaces the first.
  await page.goto(at(world, "/shop/settings"));
  await awake(page);
  await other.goto(at(world, "/shop/settings"));
  await awake(other);
  await other.getByLabel("Name", { exact: true }).fill("Luvwinkel Nord");
  await other.getByLabel("Shopper groups").fill("Retail, Clubs and schools, Dealers, Crews");
  await other.getByRole("button", { name: "Save", exact: true }).click();
  await expect(other.getByText("Saved.")).toBeVisible();
  await page.getByLabel("Name", { exact: true }).fill("Luvwinkel Süd");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  const asks = page.getByRole("alertdialog");
  await expect(asks).toContainText(
    "Name: somebody saved “Luvwinkel Nord” meanwhile. Yours, “Luvwinkel Süd”, takes its place.",
  );
  await asks.getByRole("button", { name: "Not yet" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Luvwinkel DE");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  // Left as it began, it is theirs that stays.
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Luvwinkel Nord");
  await expect(page.getByLabel("Shopper groups")).toHaveValue("Retail, Clubs and schools, Dealers, Crews");
  await page.getByLabel("Name", { exact: true }).fill("Luvwinkel DE");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved.")).toBeVisible();

  // And with what owners have set about money.
  const from = "Refunds that want two people, from (EUR)";
  const keep = "Save what becomes of money";
  await pick(other.getByLabel("When money comes after its checkout was over"), "ask");
  await other.getByLabel(from).fill("4000");
  await other.getByRole("button", { name: keep }).click();
  await expect(other.getByLabel(from)).toHaveValue("4000.00");
  await page.getByLabel(from).fill("6000");
  await page.getByRole("button", { name: keep }).click();
  await expect(page.getByText("Somebody saved 4000.00 meanwhile.")).toBeVisible();
  await page.getByRole("button", { name: keep }).click();
  await expect(page.getByLabel(from)).toHaveValue("6000.00");
  await expect(page.getByLabel("When money comes after its checkout was over")).toContainText("ask a person");
  await page.getByLabel(from).fill("");
  await page.getByRole("button", { name: keep }).click();
  await expect(page.getByRole("button", { name: keep })).toBeEnabled();
  letPass(quietConsole, /status of 409/);
  await context.close();
});

test("a shopper agrees to the terms, orders, and gets a receipt by mail and on a page", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(sheet);
  await page.getByRole("button", { name: "Walk it" }).click();
  await expect(page).toHaveURL(/\/pay\//);
  await awake(page);
  await expect(page.getByRole("img", { name: "Luvwinkel DE" })).toBeVisible();
  const pay = page.url();
  const { zahlung } = world.env.origins;
  await page.getByLabel("Überweisung").check();
  await expect(page.getByLabel("Ich stimme den Geschäftsbedingungen zu")).toBeVisible();
  // Whoever sends the form without agreeing is told so, whatever their browser does.
  const offer = sheet.split("/").at(-1) ?? "";
  const sent = await page.request.post(pay.split("?")[0] ?? "", {
    ...{ form: { press: "pay", offer }, headers: { origin: zahlung }, maxRedirects: 0 },
  });
  expect(sent.headers().location).toContain("says=terms");
  await page.goto(`${zahlung}${sent.headers().location ?? ""}`);
  await expect(page.getByText("Bitte stimmen Sie zuerst den Geschäftsbedingungen zu.")).toBeVisible();
  await accessible(page);
  await awake(page);
  await page.getByLabel("Ich stimme den Geschäftsbedingungen zu").check();
  await page.getByRole("button", { name: "Bestellung abschicken" }).click();
  await expect(page.getByRole("heading", { name: "Ihre Bestellung ist da" })).toBeVisible();
  await page.getByRole("link", { name: "Drucken oder als PDF sichern" }).click();
  await expect(page).toHaveURL(/\/receipt$/);
  await expect(page.getByText("Noch zu zahlen")).toBeVisible();
  await staysWhole(page);
  await expect(page.getByRole("link", { name: "hilfe@luvwinkel.example" })).toBeVisible();
  await accessible(page);
  await expect.poll(async () => (await letters(page, world)).length).toBe(1);
  const [letter] = await letters(page, world);
  expect(letter).toMatchObject({ to: "walk@example.org" });
  expect(letter?.subject).toMatch(/^Test: Ihre Bestellung ist da \(Luvwinkel DE, Bestellung WALKED-\w+\)$/);
  expect(letter?.text).toContain("IBAN: DE49 9990 0000 0000 2041 01");
  expect(letter?.html).toContain("/pictures/");

  await page.goto(at(world, "/operate?mode=test"));
  await page.getByRole("link", { name: /^WALKED/ }).click();
  await expect(page.getByRole("heading", { name: "Receipts to the shopper" })).toBeVisible();
  await page.getByRole("button", { name: "Send “Order placed, how to pay” again" }).click();
  await expect.poll(async () => (await letters(page, world)).length).toBe(2);
  await expect(page.getByText("2 times, the last for ida@luvwinkel.example")).toBeVisible();
  await accessible(page);

  // Whoever comes again under the same address finds chosen what they chose before.
  await page.goto(sheet);
  await page.getByRole("button", { name: "Walk it" }).click();
  await expect(page).toHaveURL(/\/pay\//);
  await expect(page.getByLabel("Überweisung")).toBeChecked();
  await staysWhole(page);
});

test("kept baskets show what each is offered, and what an edit would change", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/baskets"));
  await expect(page.getByText("No basket is kept yet.")).toBeVisible();
  await awake(page);
  await page.getByRole("button", { name: "Keep Usual order" }).click();
  const row = page.getByRole("row", { name: /Usual order/ });
  await expect(row.getByText("shown")).toBeVisible();
  await accessible(page);
  await page.goto(sheet);
  await awake(page);
  await expect(page.getByText("For the one kept basket this edit changes nothing.")).toBeVisible();
  await page.getByLabel("Greatest order total in EUR").fill("10,00");
  await expect(page.getByText("Usual order: now withheld")).toBeVisible();
  await page.getByLabel("Keep this basket as").fill("Mine");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByText("“Mine” is kept")).toBeVisible();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
  await page.goto(at(world, "/offer/baskets"));
  await awake(page);
  await expect(row.getByText("too much")).toBeVisible();
  await page.getByRole("button", { name: "Why not, for Usual order" }).click();
  await expect(page.getByText(/Only up to|greatest|above/i).last()).toBeVisible();
  await page.getByRole("button", { name: "Forget Mine" }).click();
  await expect(page.getByRole("row", { name: /^Mine/ })).toHaveCount(0);
});
