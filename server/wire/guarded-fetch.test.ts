import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { readSettings } from "../settings";
import { guardedFetch } from "./guarded-fetch";

let asked = 0;
const server = createServer((_, response) => {
  asked += 1;
  response.end("here");
});
let port = 0;
beforeAll(async () => {
  server.listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  ({ port } = server.address() as AddressInfo);
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

const settings = (env: Record<string, string> = {}) =>
  readSettings({ ZAHLUNG_ORIGIN: "http://pay.example", ...env }, { production: false });
/** A name service that answers with these in turn. */
const names = (...answers: string[]) => {
  const calls: string[] = [];
  const find: Parameters<typeof guardedFetch>[1] = (host, done) => {
    calls.push(host);
    done(null, [{ address: answers.shift() ?? "127.0.0.1", family: 4 }]);
  };
  return { calls, find };
};

describe("a call to an address that somebody supplied", () => {
  it("does not reach a private network, whatever the name leads to by then", async () => {
    const before = asked;
    const { calls, find } = names("127.0.0.1");
    const failing = guardedFetch(settings(), find)(`http://provider.example:${port}/`);
    await expect(failing).rejects.toMatchObject({
      cause: { message: "provider.example leads into a private network" },
    });
    expect(calls).toEqual(["provider.example"]);
    expect(asked).toBe(before);
  });

  it("goes where the name was looked up to, once", async () => {
    const { calls, find } = names("127.0.0.1", "10.0.0.1");
    const allowed = guardedFetch(settings({ ZAHLUNG_ALLOW_PRIVATE_ADDRESSES: "1" }), find);
    const answer = await allowed(`http://provider.example:${port}/`, { method: "POST", body: "x" });
    expect([answer.status, await answer.text()]).toEqual([200, "here"]);
    expect(calls).toHaveLength(1);
  });

  it("reaches the operator's own origin", async () => {
    const { find } = names();
    expect((await guardedFetch(settings(), find)(`http://pay.example:${port}/`)).ok).toBe(true);
  });

  it("fails for a name that leads nowhere, and ends when its time is over", async () => {
    const nowhere = guardedFetch(settings(), (_, done) => done(null, []));
    await expect(nowhere(`http://provider.example:${port}/`)).rejects.toThrow("fetch failed");
    const silent = guardedFetch(settings(), () => {});
    const timed = silent("http://provider.example/", { signal: AbortSignal.timeout(50) });
    await expect(timed).rejects.toMatchObject({ name: "TimeoutError" });
  });
});
