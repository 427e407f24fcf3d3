import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openRuntime, type Runtime } from "./runtime";
import { readSettings } from "./settings";
import type { NewStorefront } from "./storefronts/storefronts";

/** A Zahlung on a fresh database whose clock stands still until it is turned, and whose wire is the test's. */
export interface TestRuntime {
  rt: Runtime;
  /** Milliseconds since the epoch. */
  clock: { now: number };
  /** What is called instead of the network. */
  wire: { http: typeof fetch };
  close(): void;
}

/** A storefront to test with. */
export const north: NewStorefront = {
  id: "north",
  name: "North",
  domain: "north.example",
  https: true,
  country: "DE",
  languages: ["de"],
  currencies: ["EUR"],
  groups: [{ id: "retail", name: "Retail" }],
};

export async function openTestRuntime(env: Record<string, string> = {}): Promise<TestRuntime> {
  const place = mkdtempSync(join(tmpdir(), "zahlung-test-"));
  const settings = readSettings(
    { ZAHLUNG_DATABASE_URL: `file:${place}/z.db`, ZAHLUNG_LOG: "silent", ...env },
    { production: false },
  );
  const clock = { now: 1_700_000_000_000 };
  const wire: TestRuntime["wire"] = { http: () => Promise.reject(new TypeError("no network in this test")) };
  const rt = await openRuntime(settings, {
    root: process.cwd(),
    now: () => clock.now,
    http: (input, init) => wire.http(input, init),
  });
  return {
    rt,
    clock,
    wire,
    close() {
      rt.db.close();
      rmSync(place, { recursive: true, force: true });
    },
  };
}
