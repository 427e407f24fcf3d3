// npm run bench: measures what the guide promises and writes bench/results.json.
import { buildIfStale, installPackages, run } from "./setup.mjs";

installPackages();
buildIfStale();
const { program } = await import("./programs.mjs");
run(process.execPath, [program("bench/main.ts"), ...process.argv.slice(2)]);
