import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import type { Page } from "@playwright/test";
import { program } from "../scripts/programs.mjs";
import { choose, signIn, storefront } from "./people";
import { accessible, expect, letPass, test, type TestWorld } from "./world";

test.use({ room: "face" });
test.describe.configure({ mode: "serial" });

const views = [
  "",
  "/plan",
  "/plan/costs",
  "/plan/list",
  "/connect",
  "/offer?add=1",
  "/offer/stages",
  "/rehearse",
  "/cut-over",
  "/operate?mode=live",
  "/operate/webhooks?mode=test",
  "/operate/findings?mode=live",
  "/exchanges",
  "/shop",
  "/shop/settings",
];

/** How much of a page moved while it came, by the browser's own count. */
const moved = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        let sum = 0;
        new PerformanceObserver((list) => {
          for (const entry of list.getEntries()) sum += (entry as PerformanceEntry & { value: number }).value;
        }).observe({ type: "layout-shift", buffered: true });
        setTimeout(() => resolve(sum), 300);
      }),
  );

function connectTen(world: TestWorld) {
  const done = spawnSync(process.execPath, [program("e2e/ten-connections.ts")], {
    env: { ...process.env, ...world.env.zahlung, NODE_ENV: "production" },
    encoding: "utf8",
  });
  expect(done.stderr).toBe("");
  expect(done.status).toBe(0);
}

test("with no connection every view says what to do first", async ({ page, world, quietConsole }) => {
  await signIn(page, world);
  for (const path of views) {
    await page.goto(`${world.env.origins.zahlung}${storefront}${path}`);
    await expect(page.getByRole("heading", { level: 1 })).toHaveCount(1);
    await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
    expect(await moved(page), path).toBeLessThan(0.02);
    await accessible(page);
  }
  for (const path of ["/people", "/profiles", "/audit", "/jobs", "/storefronts/new"]) {
    await page.goto(`${world.env.origins.zahlung}${path}`);
    await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
    await expect(page.getByRole("button", { name: /Storefront Luvwinkel DE/ })).toBeVisible();
    await accessible(page);
  }
  await page.goto(`${world.env.origins.zahlung}/profiles`);
  const names = () => page.getByRole("table", { name: "Profiles" }).getByRole("row").allTextContents();
  const [, ...before] = await names();
  await page.getByRole("link", { name: "Provider", exact: true }).click();
  await expect(page).toHaveURL(/sort=-name/);
  await expect.poll(async () => (await names()).slice(1)).toEqual(before.toSorted().reverse());
  const file = await page.request.get(`${world.env.origins.zahlung}/people.csv`);
  expect(file.headers()["content-type"]).toContain("text/csv");
  expect(await file.text()).toMatch(/"?Name"?,E-mail,Role,Since\r\n.*@luvwinkel\.example,owner,20/);
  expect(quietConsole).toEqual([]);
});

test("with ten connections home, board and lever fit, and one press runs every case", async ({
  page,
  world,
}) => {
  // Some three hundred cases are played, on whatever machine this is.
  test.setTimeout(400_000);
  connectTen(world);
  await signIn(page, world);
  const at = (path: string) => `${world.env.origins.zahlung}${storefront}${path}`;
  const height = () => page.evaluate(() => document.documentElement.scrollHeight);

  await page.goto(at(""));
  await expect(page.getByRole("region", { name: "Track diagram" }).getByRole("listitem")).toHaveCount(11);
  await expect(page.getByRole("link", { name: /^Plan/ })).toContainText("10 of 10");
  expect(await height(), "home on one screen").toBeLessThanOrEqual(800);
  expect(await moved(page)).toBeLessThan(0.02);
  await accessible(page);

  await page.goto(at("/rehearse"));
  const run = page.getByRole("button", { name: "Run all" });
  await expect(run).toBeInViewport();
  // How long the page takes to answer a press while the board runs, by the browser's own measure.
  await page.evaluate(() => {
    const seen = ((window as unknown as { slow: number[] }).slow = [] as number[]);
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries())
        if ((entry as PerformanceEntry & { interactionId?: number }).interactionId) seen.push(entry.duration);
    }).observe({ type: "event", durationThreshold: 16, buffered: true } as PerformanceObserverInit);
  });
  await run.click();
  await expect(page.getByRole("progressbar")).toBeVisible();
  for (const title of ["Approved", "Refund", "Webhook lost"])
    await page.getByRole("button", { name: new RegExp(`^${title}, Card:`) }).click();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowRight");
  await expect(page.getByText(/all \d+ required cases passed/)).toBeVisible({ timeout: 300_000 });
  const slow = await page.evaluate(() => (window as unknown as { slow: number[] }).slow);
  // The proof of a case far down is beside it, and on a phone over the end of the page.
  await page.getByRole("button", { name: /^Webhook lost, Card:/ }).click();
  const proof = page.getByRole("region", { name: "Webhook lost, Card" });
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    await expect(proof.getByRole("heading", { name: "Webhook lost" })).toBeInViewport();
    await expect(proof.getByRole("button", { name: "Close the proof" })).toBeInViewport();
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  console.log(`   interactions on the running board took ${slow.join(", ") || "under 16"} ms`);
  await accessible(page);

  await page.goto(at("/cut-over"));
  await expect(page.getByRole("group", { name: "The lever" })).toBeInViewport();
  await expect(page.getByText("nothing is live on this storefront")).toBeVisible();
  await accessible(page);
  for (const path of views) {
    await page.goto(at(path));
    await expect(page.getByRole("heading", { level: 1 })).toHaveCount(1);
    expect(await moved(page), path).toBeLessThan(0.02);
  }
});

test("the palette finds whatever there is, and typing in it never leads elsewhere", async ({
  page,
  world,
}) => {
  await signIn(page, world);
  const open = async (words: string) => {
    await page.keyboard.press("Control+k");
    await expect(page.getByRole("dialog")).toBeVisible();
    await page.keyboard.type(words);
  };
  // Letters that lead to stations outside.
  await open("ratenhaus wpcru");
  await expect(page).toHaveURL(new RegExp(`${storefront}$`));
  await expect(page.getByText("Nothing is called that.")).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await open("ratenhaus");
  await page
    .getByRole("option", { name: /^Ratenhaus/ })
    .first()
    .click();
  await expect(page.getByRole("heading", { name: /Ratenhaus/ })).toBeVisible();
  await open("dealer");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  // Another storefront, at the same station.
  await expect(page).toHaveURL(/\/s\/luvwinkel-dealers\/connect/);
});

test("a menu's list comes by keyboard and by press, and gives the focus back", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}`);
  const button = page.getByRole("button", { name: "Storefront Luvwinkel DE, choose another" });
  await expect(button).toHaveAttribute("aria-expanded", "false");
  await button.press("ArrowUp");
  await expect(page.getByRole("menuitem", { name: "Add a storefront" })).toBeFocused();
  await accessible(page);
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("menuitem", { name: "Add a storefront" })).toBeFocused();
  await page.keyboard.press("Escape");
  await expect(button).toBeFocused();
  await expect(button).toHaveAttribute("aria-expanded", "false");
  await button.press("Enter");
  await expect(page.getByRole("menuitem").first()).toBeFocused();
  await page.keyboard.press("Escape");
  await button.click();
  await page.getByRole("menuitem", { name: "Add a storefront" }).click();
  await expect(page).toHaveURL(/storefronts\/new$/);
  await expect(page.getByRole("menu")).toHaveCount(0);
});

test("columns are ticked off in a list that stays open, and the address says so", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/exchanges`);
  const heads = page.getByRole("columnheader");
  await expect(heads.filter({ hasText: "Mode" })).toBeVisible();
  await page.getByRole("button", { name: "Columns" }).click();
  const mode = page.getByRole("menuitemcheckbox", { name: /Mode/ });
  await expect(mode).toBeChecked();
  await mode.press("Space");
  await expect(page).toHaveURL(/columns=/);
  await expect(mode).not.toBeChecked();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Columns" })).toBeFocused();
  await expect(heads.filter({ hasText: "Mode" })).toHaveCount(0);
});

test("on a phone a payment is looked up, and nothing is cut", async ({ page, world }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, world);
  const at = (path: string) => `${world.env.origins.zahlung}${storefront}${path}`;
  await page.goto(at("/operate?mode=test&rehearsals=1"));
  const amounts = page.getByRole("columnheader", { name: "Amount" });
  await expect(amounts).toBeInViewport();
  const order =
    ((await page.getByRole("table").getByRole("link").nth(4).textContent()) ?? "").split(" ")[0] ?? "";
  await page.getByRole("textbox", { name: "Order, reference, e-mail or last four", exact: true }).fill(order);
  await expect(page).toHaveURL(/q=/);
  await page.getByRole("table").getByRole("link").filter({ hasText: order }).first().click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Order");
  for (const path of views) {
    await page.goto(at(path));
    const wide = await page.evaluate(() => document.documentElement.scrollWidth);
    expect(wide, path).toBeLessThanOrEqual(390);
  }
  await accessible(page);
});

test("a storefront is changed, and what a change touches is said first", async ({
  page,
  world,
  quietConsole,
}) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}${storefront}/shop/settings`);
  await choose(page, "Languages", "French");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("alertdialog")).toContainText("wording in French");
  await accessible(page);
  await page.getByRole("button", { name: "Save them" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.getByRole("button", { name: "Take out French" }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  letPass(quietConsole, /status of 409/);
});

test("an account that another storefront uses can be used here too", async ({ page, world }) => {
  await signIn(page, world);
  await page.goto(`${world.env.origins.zahlung}/s/luvwinkel-dealers/plan`);
  await page.getByRole("button", { name: "Use Karvello here too" }).click();
  await expect(page.getByRole("heading", { name: "Handshake with Karvello" })).toBeVisible();
  await expect(page.getByRole("checkbox", { name: "Dealer desk" })).toBeChecked();
});

test("the first screen needs less than 160 kB of script", async ({ page, world }) => {
  await signIn(page, world);
  const scripts: string[] = [];
  page.on("response", (response) => {
    const { pathname } = new URL(response.url());
    if (pathname.endsWith(".js")) scripts.push(pathname);
  });
  await page.goto(`${world.env.origins.zahlung}${storefront}`, { waitUntil: "load" });
  const sent = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLLinkElement>("link[rel=modulepreload]")].map((one) => one.href),
  );
  const names = new Set([...scripts, ...sent.map((one) => new URL(one).pathname)]);
  const sizes = [...names]
    .filter((name) => name.startsWith("/assets/"))
    .map((name) => gzipSync(readFileSync(join("build", "client", name))).length);
  const total = sizes.reduce((sum, one) => sum + one, 0);
  console.log(`   the first screen's scripts: ${Math.round(total / 1000)} kB`);
  expect(total).toBeLessThan(160_000);
});
