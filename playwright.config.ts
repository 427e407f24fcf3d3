import { defineConfig } from "@playwright/test";
import { chromiumOptions } from "./scripts/chromium.mjs";

// A page of the demo shop goes without what comes late; a busy machine is not late.
process.env.SHOP_PATIENCE = "60000";

export default defineConfig({
  testDir: "e2e",
  // The longest first, so that nobody waits for it at the end.
  projects: [
    { name: "whole job", testMatch: "whole-job.spec.ts" },
    { name: "all else", testMatch: "*.spec.ts", testIgnore: "whole-job.spec.ts" },
  ],
  // Limits that tell a hang from a busy machine, and nothing about speed.
  timeout: 1_200_000,
  expect: { timeout: 90_000 },
  workers: 2,
  fullyParallel: false,
  reporter: [["list"], ["json", { outputFile: "test-results/e2e.json" }]],
  outputDir: "test-results/e2e",
  use: {
    viewport: { width: 1280, height: 800 },
    locale: "en-GB",
    timezoneId: "Europe/Berlin",
    // A picture for a failure would be taken at the end of every test, before it is known how it ended.
    screenshot: "off",
    actionTimeout: 90_000,
    launchOptions: chromiumOptions,
  },
});
