// npm run conformance -- profile.json --mode test --keys keys.json: holds a profile against its provider.
import { spawnSync } from "node:child_process";
import { program } from "./programs.mjs";
import { installPackages, root } from "./setup.mjs";

installPackages();
const args = [program("scripts/conformance.ts"), ...process.argv.slice(2)];
const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: "inherit" });
process.exit(status ?? 2);
