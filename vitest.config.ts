import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["{core,server,app,standins,scripts,e2e}/**/*.test.ts"],
    environment: "node",
    setupFiles: ["vitest.setup.ts"],
    // Half of the time is spent waiting for other processes.
    maxWorkers: 3,
    // Long enough for a machine that is busy with something else; what must be quick is measured by the bench.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    reporters: ["default", ["json", { outputFile: "test-results/unit.json" }]],
  },
});
