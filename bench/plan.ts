import { chromium } from "@playwright/test";
import { addConnection, connectionOf } from "#server/connections/connections";
import { enterKeys } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import { installVersion, profileOf } from "#server/profiles/profiles";
import { atDashboard, keysAt } from "../demo/dashboards";
import type { SystemWorld } from "../e2e/system/world";
import { chromiumOptions } from "../scripts/chromium.mjs";
import { startBuilt } from "./built";
import { percentile, round } from "./figures";

/** Proving all rows of one connection, in calm weather: the slowest provider counts. */
export async function measureProving(world: SystemWorld) {
  const { rt } = world;
  const seconds: Record<string, number> = {};
  for (const provider of ["ostwick", "pennywhistle", "quippa", "thumbra", "ratenhaus"]) {
    const profile = await profileOf(rt, provider);
    if (!profile) throw new Error(provider);
    const id = await addConnection(rt, "bench", { profile, storefrontId: "luvwinkel-de" });
    const where = await connectionOf(rt, id);
    if (!where) throw new Error(id);
    await enterKeys(
      rt,
      "bench",
      where,
      "test",
      await keysAt(await atDashboard(world.standins, provider), "sandbox"),
    );
    const start = performance.now();
    await proveKeys(rt, where, "test");
    seconds[provider] = round((performance.now() - start) / 1000, 3);
  }
  return { seconds, reach: "under 2 s each" };
}

const KEYS = "ratenzahlung";

/** How long the plan takes from a keystroke to the list that answers it, with a hundred profiles installed. */
export async function measurePlan(world: SystemWorld) {
  const { rt } = world;
  const model = await profileOf(rt, "quippa");
  if (!model) throw new Error("quippa");
  for (let n = 1; n <= 94; n++) {
    const words = ["Teal", "Rail", "Raten", "Plover", "Dunlin", "Zahl", "Tern"];
    const name = `${words[n % words.length]}bank ${n}`;
    await installVersion(
      rt,
      "bench",
      { ...structuredClone(model), id: `bench-${n}`, name, about: `${name}, number ${n} of many.` },
      "file",
    );
  }
  const { origin, cookie, end } = await startBuilt(world);
  const browser = await chromium.launch(chromiumOptions);
  try {
    const context = await browser.newContext();
    const [name = "", value = ""] = cookie.split("=");
    await context.addCookies([{ name, value, url: origin }]);
    const page = await context.newPage();
    await page.goto(`${origin}/s/luvwinkel-de/plan`);
    await page.waitForLoadState("networkidle");
    const input = page.getByRole("searchbox", { name: "Provider, method or network" });
    await input.focus();
    // Measured in the page, from the input to the frame after the list has answered it.
    await page.evaluate(() => {
      const found = ((window as unknown as { keystrokes: number[] }).keystrokes = []) as number[];
      document.addEventListener(
        "input",
        () => {
          const start = performance.now();
          const look = () =>
            document.querySelector("[data-answers][aria-busy=true]")
              ? requestAnimationFrame(look)
              : requestAnimationFrame(() => found.push(performance.now() - start));
          requestAnimationFrame(look);
        },
        true,
      );
    });
    for (let round_ = 0; round_ < 4; round_++) {
      for (const key of KEYS) {
        await page.keyboard.press(key);
        await page.waitForTimeout(120);
      }
      await input.fill("");
      await page.waitForTimeout(120);
    }
    const times = await page.evaluate(() => (window as unknown as { keystrokes: number[] }).keystrokes);
    if (times.length < KEYS.length) throw new Error("too few keystrokes were measured");
    return {
      profiles: 100,
      keystrokeP95ms: round(percentile(times, 0.95), 1),
      keystrokeMedianMs: round(percentile(times, 0.5), 1),
      reach: "under 100 ms",
    };
  } finally {
    await browser.close();
    await end();
  }
}
