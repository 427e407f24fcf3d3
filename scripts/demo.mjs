// npm run demo [-- --fresh] [-- --furnished]: the whole demo world, set up and started by one command.
import { randomBytes } from "node:crypto";
import { once } from "node:events";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { buildIfStale, end, folder, installPackages, portIsFree, root, start } from "./setup.mjs";

const args = process.argv.slice(2);
const ports = {
  zahlung: Number(process.env.ZAHLUNG_PORT ?? 4000),
  standins: Number(process.env.STANDINS_PORT ?? 4100),
  shop: Number(process.env.SHOP_PORT ?? 4200),
  mail: Number(process.env.MAIL_PORT ?? 4125),
};
const variables = {
  zahlung: "ZAHLUNG_PORT",
  standins: "STANDINS_PORT",
  shop: "SHOP_PORT",
  mail: "MAIL_PORT",
};
const names = {
  zahlung: "Zahlung",
  standins: "the simulated providers",
  shop: "the demo shop",
  mail: "the mail box",
};

for (const [name, port] of Object.entries(ports)) {
  if (await portIsFree(port)) continue;
  console.error(
    `Port ${port} for ${names[name]} is taken. Choose another, for example: ${variables[name]}=${port + 50} npm run demo`,
  );
  process.exit(1);
}
installPackages();
buildIfStale();

const { startWorld, forget, environment } = await import("./world.mjs");
const { program } = await import("./programs.mjs");
const place = join(root, "data", "demo");
const furnished = args.includes("--furnished");
if (args.includes("--fresh") || (furnished && !existsSync(join(place, "furnished")))) forget(place);
folder(place);
const keyFile = join(place, "master.key");
if (!existsSync(keyFile)) writeFileSync(keyFile, randomBytes(32).toString("base64"), { mode: 0o600 });
const masterKey = readFileSync(keyFile, "utf8").trim();

let world;
let furnishing;
let ending = false;
const stop = async () => {
  if (ending) return;
  ending = true;
  await (furnishing ? end([furnishing]) : world?.end());
  process.exit(0);
};
process.on("SIGINT", stop);
process.on("SIGTERM", stop);

try {
  if (furnished && !existsSync(join(place, "furnished"))) {
    console.log(
      "Furnishing: four storefronts, their providers, rehearsals, cutovers and two months of payments; this takes about a minute, once…",
    );
    const env = environment(place, ports);
    furnishing = start("Furnishing", process.execPath, [program("demo/furnish.ts")], {
      ...env.zahlung,
      ZAHLUNG_MASTER_KEY: masterKey,
      NODE_ENV: "development",
      FURNISH_ENV: JSON.stringify(env),
    });
    const [code] = await once(furnishing, "exit");
    if (code !== 0) process.exit(ending ? 0 : 1);
    furnishing = undefined;
    writeFileSync(join(place, "furnished"), "");
  }
  world = await startWorld(place, ports, { masterKey });
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
const { origins } = world.env;
console.log(`
Zahlung                  ${origins.zahlung}
  sign in as             ${world.signIn.email}
  with the password      ${world.signIn.password}
The providers            ${origins.standins} (each dashboard’s page says its password)
Karvello’s dashboard     ${origins.standins}/karvello/dashboard
  sign in as             kontor@luvwinkel.example
  with the password      ostwind-am-haff
Luvwinkel, the shop      ${origins.shop}
  the shopkeeper’s page  ${origins.shop}/keeper
The mail box             ${origins.standins}/mail

Ctrl-C ends all of it.${furnished ? "" : " More to see: npm run demo -- --furnished"}
`);
