import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, expect, it } from "vitest";
import { keyring } from "./database/schema";
import { WrongMasterKey } from "./keyring";
import { openRuntime } from "./runtime";
import { readSettings } from "./settings";
import { north } from "./test-runtime";
import { addStorefront } from "./storefronts/storefronts";

let place: string;
beforeEach(() => {
  place = mkdtempSync(join(tmpdir(), "zahlung-keyring-"));
});
afterEach(() => rmSync(place, { recursive: true, force: true }));

const key = (byte: number) => Buffer.alloc(32, byte).toString("base64");
const openWith = (masterKey: string) =>
  openRuntime(
    readSettings(
      { ZAHLUNG_DATABASE_URL: `file:${place}/z.db`, ZAHLUNG_LOG: "silent", ZAHLUNG_MASTER_KEY: masterKey },
      { production: false },
    ),
    { root: process.cwd() },
  );

it("refuses to start with another master key, and starts again with the one of before", async () => {
  (await openWith(key(1))).db.close();
  await expect(openWith(key(2))).rejects.toThrow(WrongMasterKey);
  (await openWith(key(1))).db.close();
});

it("asks what a database of before holds, before it keeps a word of its own", async () => {
  const rt = await openWith(key(1));
  await addStorefront(rt, "ida", north);
  const id = "hook_1";
  await rt.db.client.executeMultiple(`
    insert into profiles (id, created_at) values ('p', 1);
    insert into profile_versions (id, profile_id, number, version, source, document, installed_at) values ('v', 'p', 1, '1', 'shipped', '{}', 1);
    insert into connections (id, profile_id, storefront_id, name, test_version_id, created_at) values ('c', 'p', 'north', 'C', 'v', 1);
    insert into endpoints (id, connection_id, mode, path, secret, secret_hint, created_at)
      values ('${id}', 'c', 'test', 'x', '${rt.seal.close("a secret", `endpoint:${id}`)}', '', 1);
    delete from keyring;
  `);
  rt.db.close();
  await expect(openWith(key(2))).rejects.toThrow(/master key is not the one/);
  const again = await openWith(key(1));
  expect(await again.db.orm.select().from(keyring)).toHaveLength(1);
  again.db.close();
});
