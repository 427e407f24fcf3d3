// npm run rebuild: folds the facts of every payment anew, and mends what is kept beside them.
import { spawnSync } from "node:child_process";
import { program } from "./programs.mjs";
import { installPackages, root } from "./setup.mjs";

installPackages();
const { status } = spawnSync(process.execPath, [program("scripts/rebuild.ts")], {
  cwd: root,
  stdio: "inherit",
});
process.exit(status ?? 2);
