import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

/** Files that mostly wait begin first, so that nobody waits for them at the end. */
const first = ["e2e/system/server.test.ts", "e2e/system/kill.test.ts", "e2e/system/furnish.test.ts"];
const place = ({ moduleId }: TestSpecification) => {
  const at = first.findIndex((one) => moduleId.endsWith(one));
  return at < 0 ? first.length : at;
};
class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]) {
    return (await super.sort(files)).sort((a, b) => place(a) - place(b));
  }
}

const onServer = process.env.TEST_DATABASE === "server";

export default defineConfig({
  test: {
    include: ["{core,server,app,standins,scripts,e2e}/**/*.test.ts"],
    environment: "node",
    setupFiles: ["vitest.setup.ts"],
    // Half of the time is spent waiting for other processes.
    maxWorkers: 3,
    sequence: { sequencer: LongestFirst },
    // Long enough for a machine that is busy with something else; what must be quick is measured by the bench.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    reporters: [
      onServer ? "dot" : "default",
      ["json", { outputFile: `test-results/${onServer ? "server" : "unit"}.json` }],
    ],
  },
});
