import { type BrowserContext, expect, type Page, test as base } from "@playwright/test";
import type { run, RunOnly } from "axe-core";
import { randomBytes } from "node:crypto";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { freePort } from "../scripts/setup.mjs";
import { startWorld, type World } from "../scripts/world.mjs";

export interface TestWorld extends World {
  place: string;
  /** Makes weather at Karvello for the next calls or bells. */
  weather(side: "sandbox" | "live", kind: string, calls?: number, ms?: number): Promise<void>;
  logText(): string;
}

/** A world of its own for each file: free ports, a fresh database, nothing left behind. */
export const test = base.extend<{ quietConsole: string[] }, { world: TestWorld; room: string }>({
  /** Which file the world belongs to: a worker takes up another file with a world of its own. */
  room: ["", { scope: "worker", option: true }],
  world: [
    async ({ room: _ }, use) => {
      const place = mkdtempSync(join(tmpdir(), "zahlung-"));
      const ports = {
        ...{ zahlung: await freePort(), standins: await freePort() },
        ...{ shop: await freePort(), mail: await freePort() },
      };
      const masterKey = randomBytes(32).toString("base64");
      const world = await startWorld(place, ports, { logs: true, masterKey }).catch((error: unknown) => {
        throw new Error(`${String(error)}\n${logsIn(place)}`);
      });
      await use({
        ...world,
        place,
        async weather(side, kind, calls = 1, ms) {
          const response = await fetch(`${world.env.origins.standins}/weather/karvello`, {
            method: "POST",
            headers: { "content-type": "application/json" },
            body: JSON.stringify({ side, kind, calls, ms }),
          });
          expect(response.ok).toBe(true);
        },
        logText: () => logsIn(place),
      });
      await world.end();
      rmSync(place, { recursive: true, force: true });
    },
    { scope: "worker", timeout: 600_000 },
  ],
  /** Every error or warning in the console of a page fails the test, unless the test expects it. */
  quietConsole: [
    async ({ context, world }, use, { expectedStatus, ...test }) => {
      const said: string[] = [];
      listen(context, said);
      await use(said);
      // What the processes said belongs to what failed, and their folder is gone soon.
      if (test.status !== expectedStatus) console.error(world.logText().slice(-20_000));
      expect(said, "errors and warnings in the console").toEqual([]);
    },
    { auto: true },
  ],
});

/** What the processes of a world have said so far. */
const logsIn = (place: string) =>
  ["zahlung", "standins", "shop"]
    .map((name) => join(place, `${name}.log`))
    .map((file) => (existsSync(file) ? readFileSync(file, "utf8") : ""))
    .join("\n");

function listen(context: BrowserContext, said: string[]) {
  context.on("page", patient);
  context.on("console", (message) => {
    if (message.type() === "error" || message.type() === "warning")
      said.push(`${message.page()?.url()}: ${message.text()}`);
  });
  context.on("weberror", (error) => said.push(String(error.error())));
}

/** Waits until a page of Zahlung's answers to its buttons; other pages have nothing to wait for. */
export const awake = (page: Page) =>
  expect
    .poll(() =>
      page
        .evaluate(
          () =>
            !("__reactRouterContext" in window) ||
            Object.keys(document.documentElement).some((name) => name.startsWith("__reactFiber")),
        )
        // It went on to another page while it was asked.
        .catch((error: unknown) =>
          /context was destroyed/.test(String(error)) ? false : Promise.reject(error),
        ),
    )
    .toBe(true);

/** Lets a page be awake before anything is pressed on it: a test can be quicker than any person. */
export function patient(page: Page): Page {
  const { goto, reload } = page;
  page.goto = async (...call) => {
    const response = await goto.apply(page, call);
    await awake(page);
    return response;
  };
  page.reload = async (...call) => {
    const response = await reload.apply(page, call);
    await awake(page);
    return response;
  };
  return page;
}

/** Status codes of a kind that a test brings about on purpose are logged by the browser; they are let pass. */
export const letPass = (said: string[], pattern: RegExp) => {
  const kept = said.filter((one) => !pattern.test(one));
  said.splice(0, said.length, ...kept);
};

const axe = readFileSync("node_modules/axe-core/axe.min.js", "utf8");

/** Runs axe in the page. What passed is not written out: that takes longer than finding it. */
const judge = (page: Page, runOnly: RunOnly) =>
  page.evaluate(async (only) => {
    const { axe } = window as unknown as { axe: { run: typeof run } };
    const found = await axe.run(
      { include: [["html"]], exclude: [["iframe"]] },
      { runOnly: only, resultTypes: ["violations"], iframes: false },
    );
    return found.violations;
  }, runOnly);

const standards = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"];

/**
 * Checks a screen by axe for WCAG 2.2 AA, in both themes: the dark one differs in nothing but its colours. The
 * provider's own frame is its own affair, so axe runs in one go in the page, which takes half the time.
 */
export async function accessible(page: Page) {
  if (!(await page.evaluate(() => "axe" in window))) await page.evaluate(axe);
  const light = await judge(page, { type: "tag", values: standards });
  await page.emulateMedia({ colorScheme: "dark" });
  const dark = await judge(page, { type: "rule", values: ["color-contrast"] });
  await page.emulateMedia({ colorScheme: "light" });
  const said = ([theme, violations]: [string, typeof light]) =>
    violations.map(
      (one) => `${theme}: ${one.id}: ${one.nodes.map((node) => node.html.slice(0, 160)).join(" | ")}`,
    );
  expect([...said(["light", light]), ...said(["dark", dark])]).toEqual([]);
}

export { expect };
