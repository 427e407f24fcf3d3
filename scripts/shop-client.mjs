// node scripts/shop-client.mjs: writes the types of clients/shop-api from the shop API's own description, so that the client
// cannot say other than what is served.
import { build } from "esbuild";
import openapiTS, { astToString } from "openapi-typescript";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { format, resolveConfig } from "prettier";
import { root } from "./setup.mjs";

/** The shop API's description, as this source tree serves it. */
async function description() {
  const place = mkdtempSync(join(root, "node_modules/.cache-shop-client-"));
  try {
    const outfile = join(place, "openapi.mjs");
    await build({
      entryPoints: [join(root, "server/shop-api/openapi.ts")],
      outfile,
      bundle: true,
      platform: "node",
      format: "esm",
      packages: "external",
      logLevel: "silent",
    });
    return (await import(pathToFileURL(outfile).href)).openApi("https://payments.example");
  } finally {
    rmSync(place, { recursive: true, force: true });
  }
}

/** The client's types, as TypeScript. */
export async function shopClient() {
  const file = join(root, "clients/shop-api/schema.ts");
  const types = astToString(await openapiTS(await description(), { alphabetize: true }));
  const text = `// Made from the shop API's description by node scripts/shop-client.mjs; change that, not this file.\n${types}`;
  return { file, text: await format(text, { ...(await resolveConfig(file)), filepath: file }) };
}

export const isCurrent = async () => {
  const { file, text } = await shopClient();
  return readFileSync(file, "utf8") === text;
};

if (process.argv[1]?.endsWith("shop-client.mjs")) {
  const { file, text } = await shopClient();
  writeFileSync(file, text);
}
