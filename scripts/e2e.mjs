// Browser tests against the built application, the simulated providers and the demo shop, on free ports.
import { bin, buildIfStale, installPackages, needChromium, run } from "./setup.mjs";

installPackages();
needChromium();
buildIfStale();
run(bin("playwright"), ["test", ...process.argv.slice(2)]);
