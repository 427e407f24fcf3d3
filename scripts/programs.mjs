// The TypeScript programs beside the application (simulated providers, demo shop, seeding, tests' own processes),
// each made into one file that Node.js runs as it is.
import { randomUUID } from "node:crypto";
import { renameSync } from "node:fs";
import { join } from "node:path";
import { buildSync } from "esbuild";
import { root } from "./setup.mjs";

/** Makes `file` (a path from the root) into a program and returns where it is. Always fresh, and safe to call at once. */
export function program(file) {
  const outfile = join(root, "build", "programs", file.replaceAll("/", "-").replace(/\.tsx?$/, ".mjs"));
  const unfinished = `${outfile}.${randomUUID()}`;
  buildSync({
    absWorkingDir: root,
    entryPoints: [file],
    outfile: unfinished,
    bundle: true,
    platform: "node",
    jsx: "automatic",
    format: "esm",
    target: "node20",
    packages: "external",
    // The scripts know where they lie.
    external: [join(root, "scripts", "*.mjs")],
    sourcemap: "inline",
    logLevel: "error",
  });
  renameSync(unfinished, outfile);
  return outfile;
}
