import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["{core,server,app,standins,scripts,e2e}/**/*.test.ts"],
    environment: "node",
    testTimeout: 30_000,
    hookTimeout: 30_000,
    reporters: ["default", ["json", { outputFile: "test-results/unit.json" }]],
  },
});
