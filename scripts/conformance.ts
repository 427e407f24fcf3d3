import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline/promises";
import { parseArgs } from "node:util";
import { isMode } from "#core/mode";
import { readProfile } from "#core/profiles/read-profile";
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { conform } from "#server/conformance/conform";
import { tableOf } from "#server/conformance/table";
import { spoken, tell } from "./english";

const usage = `npm run conformance -- profile.json --mode test --keys keys.json [--port 4900] [--origin https://…]

  --keys    a JSON file: field id → value
  --port    where this listens for the provider's messages (default: any free port)
  --origin  the address at which the provider reaches that port (default: http://localhost:<port>)
  --domain  the shop's domain on which a device wallet finds its file
  --address print our address for messages and wait for Enter, where the provider takes it by hand only
  --patience  seconds that a message may take (default 20)`;

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    mode: { type: "string", default: "test" },
    keys: { type: "string" },
    port: { type: "string", default: "0" },
    origin: { type: "string" },
    domain: { type: "string" },
    address: { type: "boolean", default: false },
    patience: { type: "string", default: "20" },
  },
});
const stop = (says: string): never => {
  console.error(says);
  process.exit(2);
};
const [file] = positionals;
if (!file || !values.keys || !isMode(values.mode)) stop(usage);
const mode = isMode(values.mode) ? values.mode : "test";
const read = (path: string): unknown => {
  try {
    return JSON.parse(readFileSync(path, "utf8"));
  } catch (error) {
    return stop(`${path}: ${(error as Error).message}`);
  }
};
const reading = readProfile(read(file ?? ""));
if (!reading.ok)
  stop(reading.problems.map(({ path, says }) => `${file}: ${[...path, tell(says)].join(" ")}`).join("\n"));
const keys = read(values.keys ?? "") as Record<string, string>;

const place = mkdtempSync(join(tmpdir(), "zahlung-conformance-"));
const settings = readSettings(
  {
    ZAHLUNG_DATABASE_URL: `file:${join(place, "zahlung.db")}`,
    ZAHLUNG_ORIGIN: values.origin ?? "http://localhost:1",
    ZAHLUNG_ALLOW_PRIVATE_ADDRESSES: "1",
    ZAHLUNG_LOG: "silent",
    PORT: values.port,
  },
  { production: false },
);
const rt = await openRuntime(settings, { root: process.cwd() });
const { server } = openFront(rt);
await new Promise<void>((resolve) => server.listen(settings.port, resolve));
if (!values.origin) settings.origin = `http://localhost:${(server.address() as AddressInfo).port}`;
const endWorker = startWorker(rt);
let failed = true;
if (reading.ok) {
  const findings = await conform(rt, reading.profile, {
    mode,
    keys,
    patience: Number(values.patience) * 1000,
    ...(values.domain && { domain: values.domain }),
    ...(values.address && {
      byHand: async (address: string) => {
        const ask = createInterface({ input: process.stdin, output: process.stdout });
        await ask.question(
          `Make this address known to ${reading.profile.name}, then press Enter:\n${address}\n`,
        );
        ask.close();
      },
    }),
  });
  console.log(tableOf(spoken(findings)));
  failed = findings.some((one) => one.holds === false);
}
server.closeAllConnections();
server.close();
await endWorker();
rt.db.close();
rmSync(place, { recursive: true, force: true });
process.exit(failed ? 1 : 0);
