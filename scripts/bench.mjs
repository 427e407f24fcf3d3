// npm run bench: measures what the guide promises and writes bench/results.json.
import { bin, buildIfStale, installPackages, run } from "./setup.mjs";

installPackages();
buildIfStale();
run(bin("tsx"), ["bench/main.ts", ...process.argv.slice(2)]);
