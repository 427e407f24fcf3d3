import { readFileSync } from "node:fs";
import { pick } from "./boxes";
import { carryKeys, connectNew, hangByHand, openDesk, shown } from "./dashboards";
import { enter, signIn } from "./people";
import { accessible, expect, letPass, test } from "./world";

test.use({ room: "providers" });

const arrived = "a signed message arrived";
const ostwickByHand = { keep: "Keep the address", test: "Send a test notice" };
const ratenhausByHand = { keep: "Keep the address", test: "Send a test letter" };
const weather = (origin: string, provider: string, kind: string, ms?: number) =>
  fetch(`${origin}/weather/${provider}`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ side: "sandbox", kind, calls: 1, ms }),
  });

test("cards on the provider's page: the wrong one of two numbers, keys, its address by hand, a forged and a late message, and live", async ({
  page,
  context,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  const desk = await context.newPage();
  await openDesk(desk, world, "ostwick", "sandbox");
  const passphrase = await shown(desk, "#passphrase");
  await connectNew(page, world, "ostwick");
  // Told apart before any call.
  await enter(page, "Outlet ID", "test", await shown(desk, "#merchant"));
  await expect(page.getByText(/This is the merchant number at the acquiring bank/)).toBeVisible();
  // Of the right form, and wrong: named after the refusal.
  await enter(page, "Outlet ID", "test", await shown(desk, "#group"));
  await enter(page, "Signing passphrase", "test", passphrase);
  await expect(page.getByText(/is a terminal group, not an outlet/)).toBeVisible();
  await page.getByLabel("Replace Outlet ID, test").click();
  await enter(page, "Outlet ID", "test", await shown(desk, "#outlet-id"));
  await expect(page.getByText("Luvwinkel Drachenbau")).toBeVisible();
  await expect(page.getByText("account approved")).toBeVisible();
  // Forged, then right, then late.
  await weather(world.env.origins.standins, "ostwick", "badly-signed");
  await hangByHand(page, desk, "test", ostwickByHand);
  await expect(page.getByText(/A message was refused .*: its signature does not fit/)).toBeVisible();
  await expect(page.getByText(arrived)).toHaveCount(0);
  await weather(world.env.origins.standins, "ostwick", "late", 2_500);
  await desk.getByRole("button", { name: ostwickByHand.test }).click();
  await expect(page.getByText(arrived)).toBeVisible();
  await accessible(page);
  // Live, with its own keys.
  await carryKeys(page, desk, world, "ostwick", "live");
  await hangByHand(page, desk, "live", ostwickByHand);
  await expect(page.getByText(arrived)).toHaveCount(2);
  letPass(quietConsole, /422/);
});

test("a wallet: a link that is refused, one that is agreed to, and its webhook registered", async ({
  page,
  context,
  world,
}) => {
  await signIn(page, world);
  await connectNew(page, world, "pennywhistle");
  await page.getByRole("button", { name: "Link the account, test" }).click();
  await page.getByRole("button", { name: "Refuse" }).click();
  await expect(page.getByText(/The link was refused over there/)).toBeVisible();
  await page.getByRole("button", { name: "Link the account, test" }).click();
  await page.getByRole("button", { name: "Agree" }).click();
  await expect(page.getByRole("heading", { name: "Handshake with Pennywhistle" })).toBeVisible();
  await expect(page.getByText("linked", { exact: false }).first()).toBeVisible();
  await expect(page.getByText("Pennywhistle later is switched off over there")).toBeVisible();
  await page.getByRole("button", { name: "Register the webhook for me, test" }).click();
  await page.getByRole("button", { name: "Send a test, test" }).click();
  await expect(page.getByText(arrived)).toBeVisible();
  await accessible(page);
  // Withdrawn over there, and noticed here.
  const desk = await context.newPage();
  await openDesk(desk, world, "pennywhistle", "sandbox");
  await desk.getByRole("button", { name: "Withdraw its access" }).first().click();
  await page.getByRole("button", { name: "Read the account again, test" }).click();
  await expect(page.getByText(/says that access was withdrawn over there/)).toBeVisible();
});

test("a code wallet, pasted all at once", async ({ page, context, world }) => {
  await signIn(page, world);
  await connectNew(page, world, "quippa");
  const desk = await context.newPage();
  await openDesk(desk, world, "quippa", "sandbox");
  const lines = await desk.locator("dl").first().innerText();
  await page.getByRole("button", { name: "Paste several at once, test" }).click();
  await page.getByLabel("Several values, test").fill(lines);
  await page.getByRole("button", { name: "Fill the rows, test" }).click();
  await expect(page.getByText(/Filled: .*API key/)).toBeVisible();
  await page.getByRole("button", { name: "Register the webhook for me, test" }).click();
  await page.getByRole("button", { name: "Send a test, test" }).click();
  await expect(page.getByText(arrived)).toBeVisible();
  await expect(page.getByText("entered; proven once")).toHaveCount(0);
});

test("instalments, in test and in live", async ({ page, context, world }) => {
  await signIn(page, world);
  await connectNew(page, world, "ratenhaus");
  const desk = await context.newPage();
  for (const [mode, count] of [
    ["test", 1],
    ["live", 2],
  ] as const) {
    await carryKeys(page, desk, world, "ratenhaus", mode);
    await hangByHand(page, desk, mode, ratenhausByHand);
    await expect(page.getByText(arrived)).toHaveCount(count);
  }
});

test("a device wallet, whose domain file came with an ending", async ({
  page,
  context,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await connectNew(page, world, "thumbra");
  const desk = await context.newPage();
  await carryKeys(page, desk, world, "thumbra", "test");
  const coming = desk.waitForEvent("download");
  await desk.getByRole("link", { name: "Download the domain file" }).click();
  const text = readFileSync(await (await coming).path(), "utf8");
  const take = (name: string, body: string) =>
    page
      .getByLabel("Domain file, test")
      .setInputFiles({ name, mimeType: "text/plain", buffer: Buffer.from(body) });
  await take("thumbra-sandbox", text.replace("sandbox", "live").replace("TS-", "TL-"));
  await expect(page.getByText(/here belongs the one of the sandbox/)).toBeVisible();
  await take("thumbra-sandbox.txt", text);
  await expect(page.getByText(/Downloading turned its name into “thumbra-sandbox.txt”/)).toBeVisible();
  const keeper = await context.newPage();
  const host = async (name: string) => {
    await keeper.goto(`${world.env.origins.shop}/keeper`);
    await keeper.getByLabel("Name", { exact: true }).fill(name);
    await keeper.getByLabel("Text", { exact: true }).fill(text);
    await keeper.getByRole("button", { name: "Put the file there" }).click();
  };
  await host("thumbra-sandbox.txt");
  await page.getByRole("button", { name: "Look, and have Thumbra look, test" }).click();
  await expect(page.getByText(/The shop has nothing at .*thumbra-sandbox \(status 404\)/)).toBeVisible();
  await host("thumbra-sandbox");
  await page.getByRole("button", { name: "Look, and have Thumbra look, test" }).click();
  await expect(page.getByText("Thumbra says: The file was found")).toBeVisible();
  await accessible(page);
  letPass(quietConsole, /422/);
});

test("the plan: search, costs, what cannot stand together, and the list to print", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  const plan = `${world.env.origins.zahlung}/s/luvwinkel-de/plan`;
  await page.goto(plan);
  await page.getByLabel("Provider, method or network").fill("ratenzahlung");
  await expect(page.getByRole("article")).toHaveCount(1);
  await page.getByLabel("Provider, method or network").fill("");
  await pick(page.getByLabel("Merchant in"), "GB");
  await expect(
    page
      .getByRole("region", { name: "Providers that cannot serve" })
      .getByRole("article", { name: "Ratenhaus" }),
  ).toContainText("It takes no merchants in the United Kingdom");
  await page.goto(plan);
  for (const name of ["Karvello", "Ostwick"]) {
    await page.getByRole("button", { name: `Put ${name} on the shortlist` }).click();
    await expect(page.getByRole("button", { name: `Take ${name} off the shortlist` })).toBeVisible();
  }
  await expect(
    page.getByText("Karvello and Ostwick cannot both serve cards in EUR.", { exact: false }),
  ).toBeVisible();
  await accessible(page);
  await page.goto(`${plan}/costs`);
  const file = Buffer.from("order,total\n1,43.90\n2,12.00\n3,89.00\n");
  await page
    .getByLabel("Orders as CSV")
    .setInputFiles({ name: "orders.csv", mimeType: "text/csv", buffer: file });
  await expect(page.getByText("3 real orders from your file")).toBeVisible();
  await page.getByLabel("Orders a month").fill("3");
  await page.getByLabel("Cards", { exact: true }).fill("100");
  for (const kind of ["Account wallets", "Instalments"])
    await page.getByLabel(kind, { exact: true }).fill("");
  for (const name of ["Cards from abroad, %", "Refunded, %", "Disputed, %"])
    await page.getByLabel(name).fill("0");
  await page.getByRole("button", { name: "Calculate" }).click();
  // 1.35 % of 43.90, 12.00 and 89.00 is 0.59 + 0.16 + 1.20, and three times 0.22.
  await expect(page.getByRole("region", { name: "Karvello" })).toContainText("2,61");
  await expect(page.getByText("drawn", { exact: false })).toHaveCount(0);
  await expect(page.locator(".recharts-line").first()).toBeVisible();
  await accessible(page);
  await page.goto(`${plan}/list`);
  await expect(page.getByRole("region", { name: "Karvello" })).toContainText(
    "An extract of the trade register",
  );
  await accessible(page);
  letPass(quietConsole, /422/);
});

test("a profile from a file: complained of at its line, read in plain words, installed and connected", async ({
  page,
  context,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  const profile = JSON.parse(readFileSync(`${world.place}/profiles/ratenhaus.json`, "utf8")) as Record<
    string,
    unknown
  >;
  const text = JSON.stringify({ ...profile, id: "heronry", name: "Heronry" }, null, 2);
  const choose = (body: string) =>
    page
      .getByLabel("Profile file")
      .setInputFiles({ name: "heronry.json", mimeType: "application/json", buffer: Buffer.from(body) });
  await page.goto(`${world.env.origins.zahlung}/profiles`);
  await page.getByRole("link", { name: "Install from a file" }).click();
  await choose(text.replace('"amounts": "decimal"', '"amounts": "pebbles"'));
  await expect(page.locator(".cm-content")).toContainText("Heronry");
  await page.getByRole("button", { name: "Read it" }).click();
  const line = text.split("\n").findIndex((one) => one.includes('"amounts"')) + 1;
  await expect(page.getByText(`Line ${line}:`)).toBeVisible();
  await choose("x".repeat(400_000));
  await expect(page.getByText(/no profile needs more/)).toBeVisible();
  await choose(text);
  await page.getByRole("button", { name: "Read it" }).click();
  const words = page.getByRole("region", { name: "In plain words" });
  await expect(words).toContainText("Secret for letters, a secret, kept sealed");
  await expect(words).toContainText(world.env.origins.standins);
  await accessible(page);
  await words.getByRole("button", { name: "Install it" }).click();
  await expect(page.getByRole("row", { name: /Heronry/ })).toContainText("a file");
  // What was done is said where it led to, once, and can be put away.
  const said = page.getByText(/^The profile of Heronry, version \S+, was installed\.$/);
  await expect(said).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Close" }).click();
  await expect(said).toHaveCount(0);
  await page.goto(`${world.env.origins.zahlung}/s/luvwinkel-de/plan`);
  await page.getByRole("button", { name: "Connect Heronry" }).click();
  const desk = await context.newPage();
  await carryKeys(page, desk, world, "ratenhaus", "test");
  await hangByHand(page, desk, "test", ratenhausByHand);
  await expect(page.getByText(arrived)).toBeVisible();
  await page.goto(`${world.env.origins.zahlung}/s/luvwinkel-de/exchanges?operation=account`);
  await expect(page.getByRole("cell", { name: "read the account" }).first()).toBeVisible();
  await page.getByRole("table").getByRole("link").first().click();
  await expect(page.getByText("Asked", { exact: true })).toBeVisible();
  await accessible(page);
  const har = await page.request.get(
    `${world.env.origins.zahlung}/s/luvwinkel-de/exchanges.har?operation=account`,
  );
  expect(((await har.json()) as { log: { version: string; entries: unknown[] } }).log).toMatchObject({
    version: "1.2",
  });
  letPass(quietConsole, /422/);
});
