import type { Page } from "@playwright/test";
import sharp from "sharp";
import { pick } from "./boxes";
import { giveShopKey, makeShopKey, signIn, storefront } from "./people";
import { accessible, awake, expect, letPass, test, type TestWorld } from "./world";
import { staysWhole } from "./whole";

// What a way of paying costs, how it is recognised, what shoppers send in for it, and that it is kept once for all storefronts.

test.use({ room: "ways" });
test.describe.configure({ mode: "serial" });

const at = (world: TestWorld, path: string) => `${world.env.origins.zahlung}${storefront}${path}`;

async function save(page: Page) {
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
}

/** Opens the test checkout of the basket that the mirror shows. */
async function walk(page: Page) {
  await page.getByRole("button", { name: "Walk it" }).click();
  await expect(page).toHaveURL(/\/pay\//);
  await awake(page);
}

const picture = () =>
  sharp({ create: { width: 120, height: 60, channels: 3, background: "#7a3b08" } })
    .png()
    .toBuffer();

test("a fee is refused until an owner allows it, and then stands in the total", async ({
  page,
  world,
  context,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer?add=1"));
  await page.getByRole("button", { name: "Cash on delivery" }).click();
  await expect(page.getByText(/Fees are refused on this storefront/)).toBeVisible();
  await page.goto(at(world, "/shop/settings"));
  await pick(page.getByLabel("Fees for choosing a way of paying"), "allow");
  await page.getByRole("button", { name: "Save what becomes of money" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await accessible(page);
  await page.goto(at(world, "/offer"));
  await pick(page.getByLabel("The shopper", { exact: true }), "fee");
  await page.getByLabel("Share of the total, percent").fill("lots");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("“lots” is no share from 0 to 100 percent").first()).toBeVisible();
  await page.getByLabel("Share of the total, percent").fill("1,5");
  await page.getByLabel("And a sum, in EUR").fill("4.00");
  // 1.5 % of 47.80 and 4.00.
  const mirror = page.getByRole("region", { name: "What the shopper sees" });
  await expect(mirror.getByText("4,72 €").first()).toBeVisible();
  await expect(mirror.getByText("52,52 €")).toBeVisible();
  await page.getByLabel("On the button, German").fill("Kostenpflichtig bestellen");
  await page.getByLabel("Help, German").fill("Der Bote nimmt Scheine und Münzen.");
  await page.getByRole("radio", { name: "parcel" }).check({ force: true });
  await page.getByText("What you say afterwards, German").click();
  await page.getByLabel("When the shopper turned back, German").fill("Schade um {order}!");
  await save(page);
  await accessible(page);
  // At both widths, when the shopper chooses and after each outcome.
  await page.getByRole("button", { name: "Phone and desk" }).click();
  const shown = page.getByRole("dialog");
  await expect(shown.getByText("52,52 €")).toHaveCount(2);
  await pick(shown.getByLabel("Moment"), "cancelled");
  await expect(shown.getByText("Schade um 1042!")).toHaveCount(2);
  await accessible(page);
  await shown.getByRole("button", { name: "Close" }).click();
  await walk(page);
  await expect(page.getByText("Gebühr für diese Zahlungsart").first()).toBeVisible();
  await expect(page.getByText("52,52 €")).toBeVisible();
  await expect(page.getByText("Der Bote nimmt Scheine und Münzen.")).toBeVisible();
  await accessible(page);
  // The fee changes while the shopper looks: no other total is asked for than the one that was shown.
  const office = await context.newPage();
  await office.goto(at(world, "/offer"));
  await office.getByLabel("And a sum, in EUR").fill("5.00");
  await save(office);
  await office.close();
  await page.getByRole("button", { name: "Kostenpflichtig bestellen" }).click();
  await expect(page.getByText(/Die Summe hat sich inzwischen geändert/)).toBeVisible();
  await expect(page.getByText("53,52 €")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Kostenpflichtig bestellen" }).click();
  await expect(page.getByRole("heading", { name: "Ihre Bestellung ist da" })).toBeVisible();
  await expect(page.getByText("53,52 €").first()).toBeVisible();
  expect(quietConsole).toEqual([]);
});

test("a picture of the shop’s own stands beside the name; what is none is refused", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer"));
  const files = page.getByLabel("Picture of your own");
  await files.setInputFiles({ name: "mark.png", mimeType: "image/png", buffer: Buffer.from("no picture") });
  await expect(page.getByText(/is no picture|That is no|not a picture/i).first()).toBeVisible();
  letPass(quietConsole, /422/);
  await files.setInputFiles({ name: "mark.png", mimeType: "image/png", buffer: await picture() });
  await expect(page.getByRole("radio", { name: "your picture" })).toBeChecked();
  await save(page);
  await walk(page);
  await expect(page.locator('label img[src^="/pictures/"]')).toBeVisible();
  await accessible(page);
});

test("a way of the shop’s own asks for a proof, which is sent in, refused, sent again and accepted", async ({
  page,
  world,
  context,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer?add=1"));
  await page.getByRole("button", { name: "Another way of your own" }).click();
  await page.getByLabel("Name, German").fill("Haffgroschen");
  await page.getByLabel("Name, English").fill("Haffgroschen");
  await page.getByLabel("Telephone number to pay to").fill("pfeifen");
  await pick(page.getByLabel("Proof", { exact: true }), "file");
  await page.getByLabel("What is asked for, German").fill("Ein Bild Ihrer Haffgroschen");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/Write a telephone number/).first()).toBeVisible();
  letPass(quietConsole, /422/);
  await page.getByLabel("Telephone number to pay to").fill("+49 4321 555012");
  await save(page);
  await accessible(page);
  await walk(page);
  await page.getByLabel("Haffgroschen").check();
  await page.getByRole("button", { name: "Bestellung abschicken" }).click();
  await expect(page.getByRole("heading", { name: "Ein Bild Ihrer Haffgroschen" })).toBeVisible();
  await expect(page.getByText("+49 4321 555012")).toBeVisible();
  await accessible(page);
  await staysWhole(page);
  const send = async (name: string, mimeType: string, buffer: Buffer) => {
    await page.getByLabel("Bild oder PDF").setInputFiles({ name, mimeType, buffer });
    await page.getByRole("button", { name: "Absenden" }).click();
  };
  await send("a.pdf", "application/pdf", Buffer.from("%PDF-1.4 and nothing more"));
  await expect(page.getByText(/Das ließ sich nicht lesen/)).toBeVisible();
  await send("a.png", "image/png", await picture());
  await expect(page.getByText("Wir haben ihn und sehen ihn uns an.")).toBeVisible();

  const office = await context.newPage();
  await signIn(office, world);
  await office.goto(at(world, "/operate/to-be-paid?mode=test"));
  await expect(office.getByText("something sent in")).toBeVisible();
  await office
    .getByRole("row", { name: /something sent in/ })
    .getByRole("link")
    .first()
    .click();
  const shown = office.getByRole("link", { name: "The picture" });
  const address = (await shown.getAttribute("href")) ?? "";
  const file = await office.request.get(`${world.env.origins.zahlung}${address}`);
  expect(file.headers()).toMatchObject({ "content-type": "image/jpeg", "x-content-type-options": "nosniff" });
  // Whoever is not signed in is not shown it.
  const stranger = await fetch(`${world.env.origins.zahlung}${address}`, { redirect: "manual" });
  expect(stranger.status).toBe(302);
  await accessible(office);
  await office.getByRole("button", { name: "It is not right" }).click();
  await expect(office.getByText(/refused by/)).toBeVisible();
  await expect(page.getByText(/Bitte schicken Sie es noch einmal/)).toBeVisible();
  await send("b.png", "image/png", await picture());
  await office.getByRole("button", { name: "It is right: all that is left came" }).click();
  await expect(office.getByText(/accepted by/)).toBeVisible();
  await expect(office.getByText("captured").first()).toBeVisible();
  await expect(page.getByText("Vielen Dank").first()).toBeVisible();
  await staysWhole(page);
});

test("a dealer who signs in at the shop is offered the dealers’ own account, and nobody else is", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await giveShopKey(page, world, "test", await makeShopKey(page, "test"));
  await page.goto(at(world, "/offer?add=1"));
  await page.getByRole("button", { name: "Bank transfer" }).click();
  await page.getByLabel("Name, German").fill("Händlerkonto");
  await page.getByLabel("Name, English").fill("Dealers’ account");
  await page.getByLabel("Account holder").fill("Luvwinkel Handel");
  await page.getByLabel("IBAN", { exact: true }).fill("DE49 9990 0000 0000 2041 01");
  await page.getByRole("checkbox", { name: "Retail" }).uncheck();
  await page.getByRole("checkbox", { name: "Clubs and schools" }).uncheck();
  await save(page);
  const wants = async () => {
    await page.goto(world.env.origins.shop);
    await page.getByRole("listitem").filter({ hasText: "Möwe" }).getByRole("button").click();
    await page.getByRole("link", { name: "Zur Kasse" }).click();
    await page.getByRole("button", { name: "Zur Zahlung" }).click();
    await expect(page).toHaveURL(/\/pay\//);
    await awake(page);
  };
  await wants();
  await expect(page.getByLabel("Haffgroschen")).toBeVisible();
  await expect(page.getByLabel("Händlerkonto")).toHaveCount(0);
  await page.goto(`${world.env.origins.shop}/sign-in`);
  await page.getByLabel("Kundenwort").fill("aufwind");
  await page.getByRole("button", { name: "Anmelden" }).click();
  await expect(page.getByRole("link", { name: "Drachenladen Ostufer" })).toBeVisible();
  await wants();
  await page.getByLabel("Händlerkonto").check();
  await page.getByRole("button", { name: "Bestellung abschicken" }).click();
  await expect(page.getByText("Luvwinkel Handel")).toBeVisible();
  await accessible(page);
});

test("one way of paying is kept once for four storefronts, and set otherwise on one of them", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(at(world, "/offer/everywhere"));
  const boxes = page.getByRole("row", { name: /^Cash on delivery|^Nachnahme/ }).getByRole("checkbox");
  const count = await boxes.count();
  expect(count).toBeGreaterThanOrEqual(6);
  for (let i = 0; i < count; i++) {
    await boxes.nth(i).focus();
    if (!(await boxes.nth(i).isChecked())) await page.keyboard.press("Space");
  }
  await expect(page.getByText("3 places changed, not saved yet")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  for (let i = 0; i < count; i++) await expect(boxes.nth(i)).toBeChecked();

  await page.goto(at(world, "/offer/everywhere"));
  await page.goto(at(world, "/offer"));
  await page
    .getByRole("link", { name: /^Cash on delivery/ })
    .first()
    .click();
  const places = page.getByRole("region", { name: "On other storefronts" });
  await expect(places.getByRole("listitem")).toHaveCount(3);
  await accessible(page);
  await places.getByRole("link", { name: "Luvwinkel UK" }).click();
  await expect(places.getByText(/It follows/)).toBeVisible();
  await page.getByRole("spinbutton", { name: "Days until it is due" }).fill("3");
  await save(page);
  await expect(places.getByRole("row", { name: /Days until it is due/ })).toBeVisible();
  await accessible(page);

  // What is saved where it is kept goes to all; what is set otherwise stays.
  await places.getByRole("link", { name: "Luvwinkel DE" }).click();
  await expect(places.getByText(/1 set otherwise/)).toBeVisible();
  await page.getByRole("spinbutton", { name: "Days until it is due" }).fill("9");
  await page.getByRole("spinbutton", { name: "Days overdue until it is given up" }).fill("20");
  await save(page);
  await places.getByRole("link", { name: "Luvwinkel UK" }).click();
  await expect(places.getByText(/It follows/)).toBeVisible();
  await expect(page.getByRole("spinbutton", { name: "Days until it is due" })).toHaveValue("3");
  await expect(page.getByRole("spinbutton", { name: "Days overdue until it is given up" })).toHaveValue("20");
  await places.getByRole("button", { name: /^As there/ }).click();
  await expect(places.getByText("Nothing is set here otherwise.")).toBeVisible();
  await expect(page.getByRole("spinbutton", { name: "Days until it is due" })).toHaveValue("9");
});
