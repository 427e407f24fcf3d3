import { configDefaults, defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";
import { compiledWords } from "./scripts/compiled-words.mjs";

/** Files that mostly wait begin first, so that nobody waits for them at the end. */
const first = ["kill", "server", "furnish", "elsewhere", "jobs"].map((name) => `e2e/system/${name}.test.ts`);
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
/**
 * What is not run a second time on a libSQL server: whole rehearsals of one provider after another, and what is of
 * profiles and pages. They ask nothing of the database that the others do not, and were a third of all its time.
 */
const onFileAlone = ["conformance", "device", "elsewhere", "furnish", "scenes", "track"];

export default defineConfig({
  plugins: [compiledWords()],
  test: {
    include: ["{core,server,app,standins,scripts,e2e}/**/*.test.{ts,tsx}"],
    exclude: [
      ...configDefaults.exclude,
      ...(onServer ? onFileAlone.map((name) => `e2e/system/${name}.test.ts`) : []),
    ],
    environment: "node",
    // Files of one worker share what they import, since nothing of it keeps anything but by runtime: reading it anew for
    // each file took a quarter of all the time.
    isolate: false,
    setupFiles: ["vitest.setup.ts"],
    // A third of the time is spent waiting for other processes. Where a server keeps the data each file has four processes
    // of its own: with more of them at once on two cores, all that anybody does is wait for each other.
    maxWorkers: onServer ? 2 : 3,
    sequence: { sequencer: LongestFirst },
    // Long enough for a machine that is busy with something else; what must be quick is measured by the bench.
    testTimeout: 1_000_000,
    hookTimeout: 1_000_000,
    reporters: [
      onServer ? "dot" : "default",
      ["json", { outputFile: `test-results/${onServer ? "server" : "unit"}.json` }],
    ],
  },
});
