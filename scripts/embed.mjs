// node scripts/embed.mjs: makes public/embed/v1.js, which shops put on their pages, of app/embed/elements.ts.
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "vite";
import { root } from "./setup.mjs";

/** The script as it is served: one file without imports. */
export async function embedScript() {
  const [{ output }] = await build({
    root,
    configFile: false,
    publicDir: false,
    logLevel: "warn",
    build: {
      write: false,
      target: "es2022",
      lib: { entry: join(root, "app/embed/elements.ts"), formats: ["iife"], name: "zahlungEmbed" },
    },
  });
  return output[0].code;
}

if (process.argv[1] === import.meta.filename) {
  mkdirSync(join(root, "public/embed"), { recursive: true });
  writeFileSync(join(root, "public/embed/v1.js"), await embedScript());
}
