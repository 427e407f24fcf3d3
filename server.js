// The production door: loads the built application and opens it. Settings come from the environment.
import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const root = dirname(fileURLToPath(import.meta.url));
const built = join(root, "build/server/index.js");
if (!existsSync(built)) {
  console.error("The application is not built. Run: npm run build");
  process.exit(1);
}
const { open } = await import(built);
const production = process.env.NODE_ENV !== "development";
try {
  await open({ root, production });
} catch (error) {
  // What an operator can mend is said in one sentence; anything else with where it came from.
  console.error(error?.name === "WrongMasterKey" ? error.message : error);
  process.exit(1);
}
