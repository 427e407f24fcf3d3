import { mkdirSync, writeFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { issueKeys, signIn, storefront } from "./people";
import { expect, test } from "./world";

test.use({ room: "steps" });
test.describe.configure({ mode: "serial" });

/** Counts what a person does: presses, texts typed or pasted, and changes of page or window. */
class Counter {
  presses = 0;
  hops = 0;
  #at = "";
  readonly #seen: Record<string, { hops: number; interactions: number }> = {};

  constructor(readonly page: Page) {
    this.#at = this.#path();
  }
  #path = () => new URL(this.page.url()).pathname;
  /** One interaction, and a hop where it led to another page. */
  async does(act: () => Promise<unknown>) {
    await act();
    this.presses += 1;
  }
  /** Another window is looked at. */
  hop() {
    this.hops += 1;
  }
  /** Waits until the page has changed, and counts that. */
  async arrives(pattern: RegExp) {
    await expect(this.page).toHaveURL(pattern);
    if (this.#path() !== this.#at) this.hops += 1;
    this.#at = this.#path();
  }
  done(step: string) {
    this.#seen[step] = { hops: this.hops, interactions: this.presses };
    this.hops = 0;
    this.presses = 0;
    return this.#seen[step];
  }
  report = () => this.#seen;
}

/** Pastes as the clipboard does. */
const paste = (page: Page, text: string) =>
  page.evaluate((words) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/plain", words);
    document.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
  }, text);

test("the job takes few steps, counted in the real interface", async ({ page, context, world }) => {
  const { zahlung } = world.env.origins;
  const desk = await context.newPage();
  await signIn(page, world);
  const count = new Counter(page);

  // Connect: a provider proven, its keys carried over from its dashboard in one go.
  await count.does(() => page.getByRole("link", { name: "Choose a provider" }).click());
  await count.arrives(/\/plan$/);
  await count.does(() => page.getByRole("button", { name: "Connect Karvello" }).click());
  await count.arrives(/\/connect\/con_/);
  count.hop();
  const keys = await issueKeys(desk, world, "sandbox");
  count.presses += 2; // the two presses that issue its keys
  count.presses += 1; // what is copied there
  count.hop();
  await count.does(() =>
    paste(
      page,
      `Account ${keys.account}\nFrame key: ${keys.frame} (new)\nServer key: ${keys.server} (shown once)`,
    ),
  );
  await expect(page.getByText("fits the storefront")).toBeVisible();
  await count.does(() => page.getByRole("button", { name: "Register the webhook for me, test" }).click());
  await expect(page.getByText("a signed message arrived").first()).toBeVisible();
  const connected = count.done("a provider proven in test");
  expect(connected.hops).toBeLessThanOrEqual(4);
  expect(connected.interactions).toBeLessThanOrEqual(9);

  // Offer and rehearse: from nothing to every case passed.
  await count.does(() => page.getByRole("link", { name: "Make an offer" }).click());
  await count.arrives(/\/offer\?add=1/);
  await count.does(() => page.getByRole("button", { name: "Offer “Card” through Karvello" }).click());
  await count.arrives(/\/offer\/off_/);
  await expect(page.getByLabel("Statement text")).toHaveValue("LUVWINKEL DE");
  await count.does(() => page.keyboard.press("r"));
  await count.arrives(/\/rehearse$/);
  await count.does(() => page.getByRole("button", { name: "Run all" }).click());
  await expect(page.getByText(/all \d+ required cases passed/)).toBeVisible();
  const offered = count.done("an offer from nothing to rehearsed");
  expect(offered.interactions).toBeLessThanOrEqual(6);

  // All cases of all offers, from the board.
  await count.does(() => page.getByRole("button", { name: "Run all" }).click());
  await expect(page.getByText(/all \d+ required cases passed/)).toBeVisible();
  expect(count.done("every case of every offer").interactions).toBe(1);

  mkdirSync("test-results", { recursive: true });
  writeFileSync("test-results/steps.json", JSON.stringify(count.report(), null, 2));
  for (const [step, { hops, interactions }] of Object.entries(count.report()))
    console.log(`   ${step}: ${hops} hops, ${interactions} interactions`);
  await page.goto(`${zahlung}${storefront}`);
});

test("the keyboard alone does it too", async ({ page, world }) => {
  await signIn(page, world);
  /** Tabs until what is focused is called so. */
  const tabTo = async (name: RegExp, most = 80) => {
    for (let i = 0; i < most; i++) {
      await page.keyboard.press("Tab");
      const called = await page.evaluate(() => {
        const at = document.activeElement as HTMLElement | null;
        return at?.getAttribute("aria-label") ?? at?.textContent?.trim() ?? "";
      });
      if (name.test(called)) return;
    }
    throw new Error(`nothing called ${String(name)} can be reached`);
  };
  // Straight to the sheet, then to a station by its letter.
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await expect(page.locator("#sheet")).toBeFocused();
  await page.keyboard.press("c");
  await expect(page).toHaveURL(/\/connect\/con_/);
  await page.keyboard.press("r");
  await expect(page.getByRole("heading", { name: "Rehearse", level: 1 })).toBeVisible();
  // What was run before may still be running.
  await expect(page.getByRole("button", { name: "Run all" })).toBeEnabled();
  await tabTo(/^Run all$/);
  await page.keyboard.press("Enter");
  await expect(page.getByText(/all \d+ required cases passed/)).toBeVisible();
  // Into the board, along it by the arrows, and open a proof.
  await tabTo(/^Approved, Card:/);
  const row = () => page.evaluate(() => document.activeElement?.getAttribute("aria-label") ?? "");
  for (let rows = 0; rows < 12 && !/^Insufficient funds, Card/.test(await row()); rows++)
    await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Insufficient funds, Card" })).toContainText("Run it again");
  await page.keyboard.press("u");
  await expect(page.getByRole("heading", { name: "Cut over", level: 1 })).toBeVisible();
  await page.keyboard.press("w");
  await expect(page.getByRole("heading", { name: "Payments", level: 1 })).toBeVisible();
  await page.goto(`${page.url()}?mode=test&rehearsals=1`);
  await tabTo(/^r-|^REH|^\S+.*rehearsal$/);
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Order");
});
