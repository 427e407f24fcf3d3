import { spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { end, freePort, root, untilAnswers } from "../scripts/setup.mjs";
import { choose, signIn, storefront } from "./people";
import { accessible, expect, test } from "./world";

/** Starts the production door and gathers what it says. */
function door(env: Record<string, string>) {
  const child = spawn(process.execPath, ["server.js"], {
    cwd: root,
    env: { PATH: process.env.PATH ?? "", NODE_ENV: "production", ...env },
  });
  const said: string[] = [];
  child.stdout.on("data", (part: Buffer) => said.push(part.toString()));
  child.stderr.on("data", (part: Buffer) => said.push(part.toString()));
  return {
    child,
    text: () => said.join(""),
    ended: new Promise<number | null>((resolve) => child.once("exit", resolve)),
  };
}

test.use({ room: "ground" });

test("production refuses to start without its settings, and says which", async () => {
  const { text, ended } = door({ PORT: "4000", ZAHLUNG_MASTER_KEY: "short" });
  expect(await ended).toBe(1);
  expect(text()).toContain("ZAHLUNG_DATABASE_URL is missing.");
  expect(text()).toContain("ZAHLUNG_ORIGIN is missing.");
  expect(text()).toContain("ZAHLUNG_MASTER_KEY must be 32 bytes");
});

test("production starts empty, and its first owner makes the first storefront", async ({ page }) => {
  const place = mkdtempSync(join(tmpdir(), "zahlung-production-"));
  const port = await freePort();
  const origin = `http://localhost:${port}`;
  const env = {
    ZAHLUNG_DATABASE_URL: `file:${join(place, "z.db")}`,
    ZAHLUNG_MASTER_KEY: randomBytes(32).toString("base64"),
    ZAHLUNG_ORIGIN: origin,
    PORT: String(port),
  };
  const { child, text, ended } = door(env);
  await untilAnswers("Zahlung", `${origin}/readyz`, child);
  await expect.poll(text).toMatch(/\/welcome\/[\w-]{43}/);
  const link = /http:\/\/\S+\/welcome\/[\w-]{43}/.exec(text())?.[0] ?? "";
  await page.goto(link);
  await accessible(page);
  await page.getByLabel("Your name").fill("Ida Haff");
  await page.getByLabel("E-mail").fill("ida@luvwinkel.example");
  await page.getByLabel("Password").fill("ein langer Ostwind am Haff");
  await page.getByRole("button", { name: "Come in" }).click();
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.getByLabel("E-mail").fill("ida@luvwinkel.example");
  await page.getByLabel("Password").fill("ein langer Ostwind am Haff");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Your first storefront" })).toBeVisible();
  await accessible(page);
  await page.getByLabel("Name").fill("Luvwinkel DE");
  await page.getByLabel("Address").fill("https://shop.luvwinkel.example");
  await choose(page, "Country it sells from", "Germany");
  await choose(page, "Languages", "German");
  await choose(page, "Currencies", "Euro");
  await page.getByRole("button", { name: "Add the storefront" }).click();
  await expect(page.getByRole("heading", { name: "No provider is connected yet" })).toBeVisible();
  expect((await page.request.get(link)).status()).toBe(404);

  const second = door({ ...env, PORT: String(port) });
  expect(await second.ended).toBe(1);
  expect(second.text()).toContain(`Port ${port} is taken.`);
  child.kill("SIGTERM");
  expect(await ended).toBe(0);
  rmSync(place, { recursive: true, force: true });
});

test("pages carry their styles and a strict policy, and need no script to be styled", async ({
  page,
  world,
}) => {
  const response = await page.request.get(`${world.env.origins.zahlung}/sign-in`);
  const policy = response.headers()["content-security-policy"] ?? "";
  expect(policy).toContain("default-src 'none'");
  expect(policy).not.toContain("unsafe-inline");
  expect(policy).toContain(`frame-src ${world.env.origins.standins}`);
  const html = await response.text();
  expect(html.indexOf("<style nonce")).toBeGreaterThan(0);
  expect(html.indexOf("<style nonce")).toBeLessThan(html.indexOf("</head>"));
});

test("development hydrates without a word in the console", async ({ page, world }) => {
  const port = await freePort();
  const origin = `http://localhost:${port}`;
  const child = spawn(process.execPath, ["scripts/dev.mjs"], {
    cwd: root,
    env: {
      ...process.env,
      ...world.env.zahlung,
      NODE_ENV: "development",
      PORT: String(port),
      ZAHLUNG_ORIGIN: origin,
      ZAHLUNG_ROLES: "web",
      ZAHLUNG_HMR_PORT: String(await freePort()),
    },
    stdio: ["ignore", "ignore", "inherit"],
  });
  try {
    await untilAnswers("Development", `${origin}/readyz`, child);
    await signIn(page, {
      ...world,
      env: { ...world.env, origins: { ...world.env.origins, zahlung: origin } },
    });
    const at = `${origin}${storefront}`;
    const look = async (address: string) => {
      // A package that development meets for the first time makes it load the page anew, in the middle of things.
      await page.waitForLoadState("networkidle");
      for (let tries = 5; ; tries--)
        try {
          await page.goto(address);
          break;
        } catch (error) {
          if (tries === 0 || !/interrupted/.test(String(error))) throw error;
          await page.waitForLoadState("networkidle");
        }
      await page.waitForLoadState("networkidle");
      await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    };
    for (const path of ["", "/plan"]) await look(at + path);
    await page.getByRole("button", { name: "Connect Karvello" }).click();
    await expect(page.getByRole("heading", { name: "Handshake with Karvello" })).toBeVisible();
    await look(`${at}/offer`);
    await page.getByRole("button", { name: "Offer “Card” through Karvello" }).click();
    await expect(page.getByRole("heading", { name: "Card through Karvello" })).toBeVisible();
    for (const path of ["/rehearse", "/cut-over"]) await look(at + path);
    await look(`${at}/offer`);
    await expect(async () => {
      await page.getByRole("button", { name: "Walk it" }).click({ timeout: 5_000 });
      await expect(page).toHaveURL(/\/pay\//, { timeout: 15_000 });
    }).toPass({ timeout: 120_000 });
    await expect(page.getByText("Zu zahlen")).toBeVisible();
    await page.waitForLoadState("networkidle");
  } finally {
    // A page that is still open would ask for news of an application that has ended.
    await Promise.race([page.close(), pause(10_000)]);
    await end([child]);
  }
});
