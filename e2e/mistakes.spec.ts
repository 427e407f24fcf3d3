import { pick } from "./boxes";
import { choose, connect, enter, issueKeys, signIn, storefront } from "./people";
import { accessible, expect, letPass, patient, test } from "./world";

test.use({ room: "mistakes" });

test.describe.configure({ mode: "serial" });

test("pages and actions need a session", async ({ page, world }) => {
  const { zahlung } = world.env.origins;
  for (const path of [
    "",
    "/plan",
    "/connect",
    "/offer",
    "/rehearse",
    "/cut-over",
    "/operate",
    "/operate/webhooks",
    "/shop",
  ]) {
    await page.goto(`${zahlung}${storefront}${path}`);
    await expect(page).toHaveURL(/\/sign-in/);
  }
  await page.goto(`${zahlung}/audit`);
  await expect(page).toHaveURL(/\/sign-in\?to=%2Faudit/);
  const posted = await page.request.post(`${zahlung}${storefront}/cut-over`, {
    form: { connection: "x" },
    maxRedirects: 0,
  });
  expect(posted.status()).toBe(302);
  const foreign = await page.request.post(`${zahlung}/sign-in`, {
    form: { email: "x", password: "y" },
    headers: { origin: "https://elsewhere.example" },
  });
  expect(foreign.status()).toBe(403);
  await accessible(page);
});

test("each mistake with keys is named beside its cause", async ({ page, world, quietConsole }) => {
  const keys = await issueKeys(page, world, "sandbox");
  const live = await issueKeys(page, world, "live");
  const british = await issueKeys(page, world, "sandbox", "KV-S-207790");
  await signIn(page, world);
  await page.getByRole("link", { name: "Choose a provider" }).click();
  await page.getByRole("button", { name: "Connect Karvello" }).click();
  await enter(page, "Server key", "live", keys.server);
  await expect(page.getByText("This is the sandbox server key, and this is the live column.")).toBeVisible();
  await enter(page, "Server key", "test", keys.frame);
  await expect(page.getByText("This is the sandbox frame key; the server key goes here.")).toBeVisible();
  await enter(page, "Account code", "test", "<script>alert(1)</script>");
  await expect(page.getByText("This does not look like the account code of Karvello.")).toBeVisible();
  await enter(page, "Account code", "test", `  ${keys.account} `);
  await expect(page.getByText("Stray spaces were taken off.")).toBeVisible();
  await enter(page, "Server key", "test", keys.server);
  await enter(page, "Frame key", "test", british.frame);
  await expect(
    page.getByText("This key belongs to account KV-S-207790; the other keys belong to KV-S-207714."),
  ).toBeVisible();
  await page.getByLabel("Replace Frame key, test").click();
  await enter(page, "Frame key", "test", keys.frame);
  await expect(page.getByText("fits the storefront")).toBeVisible();

  // The British account: another country, and it cannot charge euros.
  await page.getByLabel("Replace Account code, test").click();
  await enter(page, "Account code", "test", british.account);
  await expect(page.getByText(/This key belongs to KV-S-207714, not to KV-S-207790/).first()).toBeVisible();
  await page.getByLabel("Replace Server key, test").click();
  await enter(page, "Server key", "test", british.server);
  await expect(page.getByText("The account cannot charge EUR, which Luvwinkel DE sells in.")).toBeVisible();
  await expect(
    page.getByText("The account is registered in the United Kingdom, the storefront sells from Germany."),
  ).toBeVisible();
  await accessible(page);
  letPass(quietConsole, /status of 422/);
  await connect(page, live, "live");
});

test("a webhook hung by hand with a wrong secret is shown as refused, and why", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/connect`);
  await page.getByRole("button", { name: "By hand" }).nth(1).click();
  const address =
    (await page
      .getByRole("button", { name: /\/hooks\// })
      .nth(1)
      .locator("span")
      .first()
      .textContent()) ?? "";
  const karvello = await page.context().newPage();
  await issueKeys(karvello, world, "live");
  await karvello.getByLabel("Address").fill(address);
  await karvello.getByLabel("Secret").fill(`whsec_${Buffer.alloc(32, 3).toString("base64")}`);
  await karvello.getByRole("button", { name: "Hang a bell" }).click();
  await karvello.getByRole("button", { name: "Send a test" }).click();
  await expect(page.getByText(/its signature does not fit/)).toBeVisible();
  await page.goto(`${world.env.origins.zahlung}${storefront}/operate/webhooks?mode=live`);
  await expect(page.getByText("refused: its signature does not fit").first()).toBeVisible();
});

test("unsaved work survives a reload, asks before leaving, and a stale form overwrites nothing", async ({
  page,
  world,
  quietConsole,
}) => {
  const offer = `${world.env.origins.zahlung}${storefront}/offer`;
  await signIn(page, world);
  await page.goto(offer);
  await page.getByRole("button", { name: "Offer “Card” through Karvello" }).click();
  await page.getByLabel("Hint, English").fill("שלום 🪁 <b>kite</b>");
  page.on("dialog", (dialog) => void dialog.accept());
  await page.reload();
  await expect(page.getByText("Your unsaved work from before is back.")).toBeVisible();
  await expect(page.getByLabel("Hint, English")).toHaveValue("שלום 🪁 <b>kite</b>");
  await page.getByRole("link", { name: /Rehearse/ }).click();
  await expect(page.getByRole("alertdialog", { name: "Leave without saving?" })).toBeVisible();
  await page.getByRole("button", { name: "Stay" }).click();

  const other = await page.context().newPage();
  await other.goto(offer);
  await other.getByRole("button", { name: "Discard" }).click();
  await other.getByLabel("Statement text").fill("LUVWINKEL");
  await other.getByRole("button", { name: "Save", exact: true }).click();
  await expect(other.getByText("saved as revision 2")).toBeVisible();

  // The first page hears of it by itself, and keeps what is being written there.
  await expect(page.getByText(/Working revision 2/)).toBeVisible();
  await expect(page.getByLabel("Hint, English")).toHaveValue("שלום 🪁 <b>kite</b>");
  await expect(page.getByText(/saved revision 2 meanwhile; nothing of yours was lost/)).toContainText(
    "Statement text",
  );
  await expect(page.getByLabel("Statement text")).toHaveValue("LUVWINKEL");
  await page.getByLabel("Hint, German").fill("Zwei");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("saved as revision 3")).toBeVisible();

  // Both change one field: each sees both versions, and loses nothing.
  await page.getByLabel("Hint, German").fill("Meine");
  await expect(other.getByText(/Working revision 3/)).toBeVisible();
  await other.getByLabel("Hint, German").fill("Eure");
  await other.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("radio", { name: "Hint, German: yours" })).toBeChecked();
  await accessible(page);
  await page.getByRole("radio", { name: "Hint, German: theirs" }).check();
  await page.getByRole("button", { name: "Go on with these" }).click();
  await expect(page.getByLabel("Hint, German")).toHaveValue("Eure");
  letPass(quietConsole, /status of 409/);
});

test("what is written while a save is on its way stays unsaved work, and is nobody else’s", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  const hint = page.getByLabel("Hint, English");
  await hint.fill("Mit Karte");
  let goOn = () => {};
  const held = new Promise<void>((resolve) => (goOn = resolve));
  await page.route(/\/offer\/.*\.data/, async (route) => {
    if (route.request().method() === "POST") await held;
    await route.continue();
  });
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("button", { name: "Saving…" })).toBeDisabled();
  await hint.fill("Mit Karte, ganz bequem");
  await page.getByLabel("Statement text").fill("LUVWINKEL NORD");
  goOn();
  const save = page.getByRole("button", { name: "Save", exact: true });
  await expect(save).toBeEnabled();
  await expect(page.getByText("not saved yet")).toBeVisible();
  await expect(hint).toHaveValue("Mit Karte, ganz bequem");
  await expect(page.getByLabel("Statement text")).toHaveValue("LUVWINKEL NORD");
  await expect(page.getByText(/meanwhile/)).toHaveCount(0);
  await save.click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
  await page.reload();
  await expect(hint).toHaveValue("Mit Karte, ganz bequem");
  await expect(page.getByText("All is saved.")).toBeVisible();
});

test("the mirror says what is withheld, why, and what would change it", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/offer`);
  const discard = page.getByRole("button", { name: "Discard" });
  if (await discard.isVisible()) await discard.click();
  const mirror = page.getByRole("region", { name: "Shopper’s mirror" });
  await page.getByLabel("Greatest order total in EUR").fill("40,00");
  await expect(mirror.getByText("It ends at 40,00 €.")).toBeVisible();
  await expect(mirror.getByText("Raise the greatest total to 47,80 €.")).toBeVisible();
  await mirror.getByLabel("Goods").fill("30.00");
  await expect(mirror.getByText("It ends at 40,00 €.")).toHaveCount(0);
  await page.getByRole("combobox", { name: "Shopper countries" }).fill("Narnia");
  await expect(page.getByText("Nothing is called that.")).toBeVisible();
  await choose(page, "Shopper countries", "Austria");
  await expect(mirror.getByText("It is offered in Austria; this shopper is in Germany.")).toBeVisible();
  await page.getByLabel("Statement text").fill("ÜBER-LANG UND MIT UMLAUTEN ★");
  await expect(page.getByText(/Statements cannot hold/)).toBeVisible();
  await page.getByRole("button", { name: "Discard" }).click();
});

test("the interface says which system is down, and keeps what was typed", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/connect`);
  await world.weather("sandbox", "reset", 6);
  await page.getByRole("button", { name: /Replace Frame key, test/ }).click();
  await enter(page, "Frame key", "test", "kvf.s.abcdefghjkmnpqrstuvw");
  await expect(page.getByText("Karvello could not be reached. What you entered is kept.")).toBeVisible();
  await expect(page.getByText("kvf.s.abcdefghjkmnpqrstuvw")).toBeVisible();
  letPass(quietConsole, /status of 422/);
});

test("unknown ids are answered with a page, not an error", async ({ page, world, quietConsole }) => {
  await signIn(page, world);
  const { zahlung } = world.env.origins;
  for (const path of [
    "/s/nowhere",
    `${storefront}/operate/pay_nope`,
    `${storefront}/rehearse/prf_nope`,
    `${storefront}/connect/con_nope`,
    `${storefront}/offer/off_nope`,
    "/welcome/nope",
    "/%3Cscript%3E",
  ]) {
    const response = await page.goto(zahlung + path);
    expect(response?.status(), path).toBe(404);
    await expect(page.getByRole("heading", { name: "Nothing stands here" })).toBeVisible();
  }
  const hostile = await page.request.post(`${zahlung}${storefront}/offer/off_nope`, {
    form: { press: "save", document: "{" },
    headers: { origin: zahlung },
  });
  expect(hostile.status()).toBe(404);
  const press = async (form: Record<string, string>) =>
    (
      await page.request.post(`${zahlung}${storefront}/cut-over`, { form, headers: { origin: zahlung } })
    ).status();
  expect(await press({ connection: "' or 1=1" })).toBe(400);
  expect(await press({ press: "cut-over", connection: "' or 1=1" })).toBe(409);
  letPass(quietConsole, /status of 404/);
});

test("forms of another kind, size or method are refused before they are read", async ({ page, world }) => {
  await signIn(page, world);
  const { zahlung } = world.env.origins;
  const find = async (path: string) => {
    await page.goto(`${zahlung}${storefront}${path}`);
    return page.url();
  };
  const addresses = [
    `${zahlung}/sign-in`,
    `${zahlung}/storefronts/new`,
    `${zahlung}/pay/nope`,
    await find("/plan"),
    await find("/connect"),
    await find("/offer"),
    await find("/rehearse"),
    await find("/cut-over"),
    await find("/shop"),
  ];
  const form = "application/x-www-form-urlencoded";
  const send = async (address: string, method: string, type: string, body: string | Buffer) =>
    (await page.request.fetch(address, { method, headers: { "content-type": type }, data: body })).status();
  for (const address of addresses) {
    expect(await send(address, "POST", "application/json", '{"press":"revoke"}'), address).toBe(415);
    // An offer's sheet takes pictures: what is no form with files is refused there as it is read.
    const takesFiles = address.includes("/offer/off_");
    expect(await send(address, "POST", "multipart/form-data", "x"), address).toBe(takesFiles ? 400 : 415);
    if (takesFiles)
      expect(
        await send(address, "POST", "multipart/form-data; boundary=b", "--b\r\nbroken off"),
        address,
      ).toBe(400);
    expect(await send(address, "POST", form, Buffer.alloc(10_000_000, "a")), address).toBe(413);
    expect(await send(address, "DELETE", form, "x=1"), address).toBe(405);
    const odd =
      "press=%00&press=refund&amount=-1e99&field=__proto__&mode=live&value=%F0%9F%AA%81%E2%80%AE&case=x" +
      "&document=%7B%22wording%22%3Anull%7D&basedOn=NaN&offer=a'--&order=%5B%5D&email=a&password=&name=%3Cb%3E";
    const status = await send(address, "POST", form, odd);
    expect(status, address).toBeGreaterThanOrEqual(400);
    expect(status, address).toBeLessThan(500);
  }
  const chunked = await fetch(`${zahlung}/sign-in`, {
    method: "POST",
    headers: { "content-type": form },
    body: new Blob(["email=x"]).stream(),
    duplex: "half",
  } as RequestInit);
  expect(chunked.status).toBe(411);
  await page.goto(`${zahlung}/audit`);
  await expect(page.getByText("shop key")).toHaveCount(0);
});

test("a lost connection does not take the page away", async ({ page, context, world, quietConsole }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/operate/webhooks?mode=live`);
  await expect(page.getByRole("heading", { name: "Webhooks received" })).toBeVisible();
  await context.setOffline(true);
  await expect(page.getByText("Zahlung does not answer just now.")).toBeVisible();
  await expect(page.getByText("refused: its signature does not fit").first()).toBeVisible();
  const readAgain = page.waitForResponse(/webhooks\.data/);
  await context.setOffline(false);
  await readAgain;
  await expect(page.getByText("Zahlung does not answer just now.")).toHaveCount(0);
  await context.setOffline(true);
  await page.getByRole("link", { name: "Test", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Zahlung could not be reached" })).toBeVisible();
  await accessible(page);
  await context.setOffline(false);
  await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
  letPass(quietConsole, /INTERNET_DISCONNECTED|Failed to fetch/);
});

test("letters lead to the stations, and a sheet lists the keys", async ({ page, world }) => {
  await signIn(page, world);
  await page.keyboard.press("r");
  await expect(page).toHaveURL(/\/rehearse$/);
  await page.keyboard.press("w");
  await expect(page).toHaveURL(/\/operate$/);
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog")).toBeVisible();
  await page.keyboard.type("audit");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/audit$/);
  await expect(page.getByText("the chain is whole")).toBeVisible();
  await accessible(page);
});

test("an owner invites a viewer, who may look and change nothing, until taken out", async ({
  page,
  browser,
  world,
  quietConsole,
}) => {
  const { zahlung } = world.env.origins;
  await signIn(page, world);
  await page.goto(`${zahlung}/people`);
  await pick(page.getByLabel("Role"), "viewer");
  await page.getByRole("button", { name: "Make a one-time address" }).click();
  const link = page.getByRole("status").getByRole("button").locator("span").first();
  const address = (await link.textContent()) ?? "";
  await accessible(page);

  const enno = patient(await (await browser.newContext()).newPage());
  await enno.goto(address);
  await expect(enno.getByText("As a viewer you can look at everything here")).toBeVisible();
  await enno.getByLabel("Your name").fill("Enno");
  await enno.getByLabel("E-mail").fill("enno@luvwinkel.example");
  await enno.getByLabel("Password").fill("sewing sails by night");
  await enno.getByRole("button", { name: "Come in" }).click();
  await expect(enno.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await enno.getByLabel("E-mail").fill("enno@luvwinkel.example");
  await enno.getByLabel("Password").fill("sewing sails by night");
  await enno.getByRole("button", { name: "Sign in" }).click();
  await expect(enno.getByRole("button", { name: "Enno (may look)" })).toBeVisible();
  for (const [path, form] of [
    [`${storefront}/shop?index`, { press: "make", mode: "test" }],
    ["/people", { press: "invite", role: "owner" }],
  ] as const) {
    const refused = await enno.request.post(zahlung + path, { form, headers: { origin: zahlung } });
    expect(refused.status(), path).toBe(403);
  }

  await page.reload();
  await page.getByRole("button", { name: "Take out Enno" }).click();
  await page.getByRole("button", { name: "Take out", exact: true }).click();
  await expect(page.getByText("enno@luvwinkel.example")).toHaveCount(0);
  await enno.reload();
  await expect(enno).toHaveURL(/\/sign-in/);

  await page.getByLabel("The one you have").fill("wrong");
  await page.getByLabel("The new one").fill("another password than that");
  await page.getByRole("button", { name: "Change it" }).click();
  await expect(page.getByText("This is not your password.")).toBeVisible();
  letPass(quietConsole, /status of 422/);
});

test("signs out", async ({ page, world }) => {
  await signIn(page, world);
  await page.getByRole("button", { name: /Ida Haff/ }).click();
  await page.getByRole("menuitem", { name: "Sign out" }).click();
  await expect(page).toHaveURL(/\/sign-in/);
  await page.goto(`${world.env.origins.zahlung}${storefront}`);
  await expect(page).toHaveURL(/\/sign-in/);
});

// The last, because it slows down everyone who signs in from here.
test("wrong passwords are slowed down", async ({ page, world, quietConsole }) => {
  await page.goto(`${world.env.origins.zahlung}/sign-in`);
  await page.getByLabel("E-mail").fill("nobody@luvwinkel.example");
  const said = page.getByRole("alert");
  for (let n = 0; n < 5; n++) {
    await page.getByLabel("Password").fill(`wrong ${n}`);
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(said).toContainText("do not belong together");
    await expect(page.getByRole("button", { name: "Sign in" })).toBeEnabled();
  }
  // Each further try doubles the wait, so one of them comes within it on any machine.
  await expect(async () => {
    await page.getByLabel("Password").fill("wrong again");
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(said).toContainText("Too many wrong tries", { timeout: 5_000 });
  }).toPass();
  letPass(quietConsole, /status of (401|429)/);
});
