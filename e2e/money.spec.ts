import type { Page } from "@playwright/test";
import { type AtDashboard, atDashboard } from "../demo/dashboards";
import { pick, typeDay } from "./boxes";
import {
  cards,
  connect,
  giveShopKey,
  goToPayment,
  issueKeys,
  makeShopKey,
  orderStage,
  proveWebhook,
  signIn,
  storefront,
  typeCard,
} from "./people";
import { prepareOffer } from "./prepare";
import { accessible, expect, test, type TestWorld } from "./world";

// The whole life of a payment's money, through the interface, in test and again in live.

test.use({ room: "money" });
test.describe.configure({ mode: "serial" });

type Mode = "test" | "live";
const sides = { test: "sandbox", live: "live" } as const;

/** Presses a button and says yes to the question that it asks. */
async function sure(page: Page, name: RegExp) {
  await page.getByRole("button", { name }).first().click();
  await page.getByRole("alertdialog").getByRole("button", { name }).click();
}

async function move(page: Page, kind: "capture" | "refund", amount: string, reason?: string) {
  const verb = new RegExp(`^${kind === "capture" ? "Capture" : "Refund"} [\\d€]`);
  const more = page.getByRole("button", { name: kind === "capture" ? "Capture more" : "Refund more" });
  if (await more.isVisible()) await more.click();
  await page.getByLabel(new RegExp(`^Amount to ${kind}`)).fill(amount);
  await page.getByRole("button", { name: verb }).click();
  const ask = page.getByRole("alertdialog");
  if (reason) await ask.getByLabel("Reason, for the books").fill(reason);
  await ask.getByRole("button", { name: verb }).click();
}

class Life {
  order = "";
  slip = "";
  constructor(
    readonly page: Page,
    readonly world: TestWorld,
    readonly desk: AtDashboard,
    readonly mode: Mode,
  ) {}

  at = (path: string) => `${this.world.env.origins.zahlung}${storefront}${path}`;
  does = (what: string, work: () => Promise<void>) => test.step(`${what}, in ${this.mode}`, work);
  play = (what: string) => this.desk.press(sides[this.mode], "play", { slip: this.slip, what });

  async buy(): Promise<string> {
    await goToPayment(this.page, this.world);
    await typeCard(this.page, cards[sides[this.mode]].good);
    await expect(this.page).toHaveURL(/\/orders\/LW-/);
    return this.page.url().split("/").at(-1) ?? "";
  }

  async open() {
    await this.page.goto(this.at(`/operate?mode=${this.mode}&q=${this.order}`));
    await this.page.getByRole("link", { name: this.order }).first().click();
    await expect(this.page.getByRole("heading", { name: "Where it stands" })).toBeVisible();
  }

  async wholeLife() {
    const { page } = this;
    await this.does("is held, and taken in two parts", async () => {
      this.order = await this.buy();
      await this.open();
      await expect(page.getByText("43,90 € held", { exact: true }).first()).toBeVisible();
      this.slip =
        (
          await page
            .getByText(/^S[A-Z0-9]{12}$/)
            .first()
            .textContent()
        )?.trim() ?? "";
      await accessible(page);
      await move(page, "capture", "20");
      await expect(page.getByText("20,00 € captured and kept", { exact: true }).first()).toBeVisible();
      await expect(page.getByText("23,90 € held", { exact: true }).first()).toBeVisible();
      await move(page, "capture", "23,90");
      await expect(page.getByText("43,90 € captured and kept", { exact: true }).first()).toBeVisible();
    });

    await this.does("is given back in part, with a reason, and noted", async () => {
      await move(page, "refund", "3.90", "a torn sail");
      await expect(page.getByText("3,90 € refunded", { exact: true }).first()).toBeVisible();
      await expect(page.getByText("“a torn sail”")).toBeVisible();
      await page.getByLabel("For whoever looks at it next").fill("Sent a new sail on Monday.");
      await page.getByRole("button", { name: "Write it down" }).click();
      await expect(page.getByText("Sent a new sail on Monday.")).toBeVisible();
    });

    await this.does("is disputed, answered and won", async () => {
      await this.play("complain");
      await expect(page.getByRole("heading", { name: "The dispute" })).toBeVisible();
      await accessible(page);
      await page.goto(this.at(`/operate?mode=${this.mode}&state=disputed`));
      await expect(page.getByRole("columnheader", { name: "Answer by" })).toBeVisible();
      await expect(page.getByRole("row", { name: new RegExp(this.order) }).locator("time")).toHaveCount(2);
      await page.goto(this.at(`/operate/findings?mode=${this.mode}`));
      await expect(page.getByRole("link", { name: `${this.order} is disputed` })).toBeVisible();
      await accessible(page);
      await page.getByRole("link", { name: `${this.order} is disputed` }).click();
      await page.getByLabel("What speaks for the shop").fill("Handed over in the loft on 12 November.");
      await page.getByLabel("Files that speak for the shop").setInputFiles({
        ...{ name: "receipt.pdf", mimeType: "application/pdf" },
        buffer: Buffer.from("%PDF-1.7 signed by the shopper"),
      });
      await expect(page.getByText("receipt.pdf")).toBeVisible();
      await page.getByRole("button", { name: "Answer it" }).click();
      await expect(page.getByRole("heading", { name: "The dispute" })).toHaveCount(0);
      await this.play("for-shop");
      await expect(page.getByText("won", { exact: true })).toBeVisible();
    });

    await this.does("is paid out, and the payout says so", async () => {
      await this.desk.press(sides[this.mode], "send-out");
      await expect(page.getByRole("link", { name: /^the payout of / }).first()).toBeVisible();
      await page.goto(this.at(`/operate/payouts?mode=${this.mode}`));
      await expect(page.getByText("paid, adds up")).toBeVisible();
      await accessible(page);
      await page.getByRole("table", { name: "Payouts" }).getByRole("link").first().click();
      await expect(page.getByRole("heading", { name: "What it comes to" })).toBeVisible();
      await expect(page.getByRole("link", { name: this.order }).first()).toBeVisible();
      await accessible(page);
      const file = await page.request.get(
        await page.getByRole("link", { name: "CSV" }).evaluate((link: HTMLAnchorElement) => link.href),
      );
      expect(await file.text()).toContain(this.order);
    });

    await this.does("stands in the order, and in the fees of its month", async () => {
      await page.goto(this.at(`/operate/orders?mode=${this.mode}&q=${this.order}`));
      await accessible(page);
      await page.getByRole("link", { name: this.order }).click();
      await expect(page.getByRole("heading", { name: `Order ${this.order}` })).toBeVisible();
      await expect(page.getByText("refunded in part")).toBeVisible();
      await accessible(page);
      await page.goto(this.at(`/operate/fees?mode=${this.mode}`));
      await expect(page.getByRole("cell", { name: "Karvello" })).toBeVisible();
      await accessible(page);
      await page.goto(`${this.world.env.origins.shop}/orders/${this.order}`);
      // What the offer proposes for an order that was refunded in part.
      await expect(orderStage(page)).toHaveText("Under question");
    });

    await this.does("is captured with others by one press", async () => {
      const more = [await this.buy(), await this.buy()];
      await page.goto(this.at(`/operate/to-capture?mode=${this.mode}`));
      await accessible(page);
      await sure(page, /^Capture 2 payments, 87,80/);
      await expect(page.getByText(`nothing is held in ${this.mode}`)).toBeVisible();
      for (const order of more) {
        await page.goto(this.at(`/operate?mode=${this.mode}&q=${order}`));
        await expect(page.getByRole("row").filter({ hasText: order })).toContainText("captured");
      }
    });
  }
}

test("money lives its whole life in test", async ({ page, world }) => {
  await prepareOffer(page, world, { capture: "later" });
  const desk = await atDashboard(world.env.origins.standins, "karvello");
  await new Life(page, world, desk, "test").wholeLife();
});

test("and again in live", async ({ page, world, context }) => {
  const { zahlung } = world.env.origins;
  const other = await context.newPage();
  const live = await issueKeys(other, world, "live");
  await other.close();
  await signIn(page, world);
  await page.goto(`${zahlung}${storefront}/connect`);
  await connect(page, live, "live");
  await proveWebhook(page, "live", 1);
  await page.goto(`${zahlung}${storefront}/offer`);
  for (const [state, stage] of Object.entries({
    ...{ authorised: "Reserved", pending: "Reserved", failed: "Refused", cancelled: "Refused" },
    ...{ expired: "Refused", voided: "Refused", refunded: "Handed back" },
    ...{ "partly captured": "Paid: to the loft", disputed: "Under question" },
  })) {
    const field = page.getByLabel(`Order stage when ${state}`, { exact: true });
    if ((await field.count()) > 0) await pick(field, stage);
  }
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/saved as revision/)).toBeVisible();
  await page.goto(`${zahlung}${storefront}/rehearse`);
  await page.getByRole("button", { name: "Run all" }).click();
  await expect(page.getByText(/all \d+ required cases passed/)).toBeVisible();
  await giveShopKey(page, world, "live", await makeShopKey(page, "live"));
  await page.goto(`${zahlung}${storefront}/cut-over`);
  await page.getByRole("button", { name: "Cut over to live" }).click();
  await expect(page.getByText("Now make one small real payment")).toBeVisible();
  const desk = await atDashboard(world.env.origins.standins, "karvello");
  await new Life(page, world, desk, "live").wholeLife();
});

test("orders are narrowed, and the list is kept under a name", async ({ page, world, quietConsole }) => {
  await signIn(page, world);
  const list = `${world.env.origins.zahlung}${storefront}/operate/orders?mode=live`;
  await page.goto(list);
  const rows = page.getByRole("table", { name: "Orders" }).getByRole("row");
  await expect(rows.filter({ hasText: "refunded" }).first()).toBeVisible();
  const all = await rows.count();
  await pick(page.getByLabel("State"), "refunded");
  await expect(page).toHaveURL(/state=refunded/);
  await expect.poll(() => rows.count()).toBeLessThan(all);
  await page.getByRole("button", { name: "Keep this view" }).click();
  await page.getByLabel("Name of this view").fill("Gone back");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("link", { name: "Gone back" })).toHaveAttribute("aria-current", "page");
  await accessible(page);
  await page.goto(list);
  await expect.poll(() => rows.count()).toBe(all);
  await page.getByRole("link", { name: "Gone back" }).click();
  await expect.poll(() => rows.count()).toBeLessThan(all);
  await expect(page.getByLabel("State")).toContainText("refunded");
  // Payments have views of their own.
  await page.goto(`${world.env.origins.zahlung}${storefront}/operate?mode=live`);
  await expect(page.getByRole("table", { name: "Payments" })).toBeVisible();
  await expect(page.getByRole("link", { name: "Gone back" })).toHaveCount(0);
  await page.goto(list);
  await page.getByRole("button", { name: "Forget the view Gone back" }).click();
  await expect(page.getByRole("link", { name: "Gone back" })).toHaveCount(0);
  expect(quietConsole).toEqual([]);
});

test("payments are narrowed by days, typed or from a calendar, and without scripts as well", async ({
  page,
  world,
  browser,
  quietConsole,
}) => {
  await signIn(page, world);
  const list = `${world.env.origins.zahlung}${storefront}/operate?mode=live`;
  await page.goto(list);
  const rows = page.getByRole("table", { name: "Payments" }).getByRole("row");
  const all = await rows.count();
  expect(all).toBeGreaterThan(1);
  const from = page.getByRole("group", { name: "From" });
  await typeDay(from, "2031-01-25");
  await expect(page).toHaveURL(/from=2031-01-25/);
  await expect(rows).toHaveCount(0);
  await from.getByRole("button").click();
  await page.getByRole("button", { name: /14 January 2031/ }).hover();
  await accessible(page);
  await page.getByRole("button", { name: /14 January 2031/ }).click();
  await expect(page).toHaveURL(/from=2031-01-14/);
  await page.getByRole("link", { name: "Clear the filter" }).click();
  await expect.poll(() => rows.count()).toBe(all);
  await expect(from.getByRole("spinbutton").first()).toHaveText("dd");

  // The exact time is at hand, and goes away by a key.
  const exact = await page.locator("time").first().getAttribute("title");
  await page.locator("time").first().hover();
  await expect(page.getByRole("tooltip")).toHaveText(exact ?? "");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("tooltip")).toHaveCount(0);
  await expect(page.locator("time").first()).toHaveAttribute("title", exact ?? "");

  const context = await browser.newContext({
    javaScriptEnabled: false,
    storageState: await page.context().storageState(),
  });
  const plain = await context.newPage();
  await plain.goto(list);
  await plain.getByLabel("State").selectOption("refunded");
  await plain.getByLabel("From", { exact: true }).fill("2031-01-25");
  await plain.getByRole("button", { name: "Show", exact: true }).click();
  await expect(plain).toHaveURL(/state=refunded.*from=2031-01-25/);
  await context.close();
  expect(quietConsole).toEqual([]);
});

test("a refund waits for a second person, who agrees", async ({ page, world, browser }) => {
  const { zahlung } = world.env.origins;
  const at = (path: string) => `${zahlung}${storefront}${path}`;
  await signIn(page, world);
  await page.goto(at("/shop/settings"));
  await page.getByLabel("Refunds that want two people, from (EUR)").fill("40");
  await page.getByRole("button", { name: "Save what becomes of money" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.goto(at("/operate?mode=live&state=captured"));
  await page.getByRole("link", { name: /^LW-/ }).first().click();
  await move(page, "refund", "43.90", "never arrived");
  await expect(page.getByText("You want to refund")).toBeVisible();
  await accessible(page);

  // Somebody else is invited, and says yes.
  const payment = page.url();
  await page.goto(`${zahlung}/people`);
  await page.getByRole("button", { name: "Make a one-time address" }).click();
  const link = await page
    .getByText(/\/welcome\//)
    .first()
    .textContent();
  const others = await browser.newContext();
  const uwe = await others.newPage();
  await uwe.goto(/https?:\S+/.exec(link ?? "")?.[0] ?? "");
  await uwe.getByLabel("Your name").fill("Uwe Deich");
  await uwe.getByLabel("E-mail").fill("uwe@luvwinkel.example");
  await uwe.getByLabel("Password").fill("ein-anderer-ostwind");
  await uwe.getByRole("button", { name: "Come in" }).click();
  await expect(uwe).toHaveURL(/\/sign-in/);
  await uwe.getByLabel("E-mail").fill("uwe@luvwinkel.example");
  await uwe.getByLabel("Password").fill("ein-anderer-ostwind");
  await uwe.getByRole("button", { name: "Sign in" }).click();
  await expect(uwe.getByRole("heading", { name: "Luvwinkel DE" })).toBeVisible();
  await uwe.goto(payment);
  await uwe.getByRole("button", { name: "Agree, and refund it" }).click();
  await expect(uwe.getByText("43,90 € refunded", { exact: true }).first()).toBeVisible();
  await others.close();
});
