import { speaking } from "../../scripts/english";
import { readFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Profile } from "#core/profiles/profile";
import { conform as conformSaid } from "#server/conformance/conform";
import type { Finding as SaidFinding } from "#server/conformance/run";
import { tableOf } from "#server/conformance/table";
import { profileOf } from "#server/profiles/profiles";
import { AtKarvello } from "../../demo/karvello";
import { atDashboard, keysAt } from "../../demo/dashboards";
import { openWorld, type SystemWorld } from "./world";

type Finding = Omit<SaidFinding, "says"> & { says: string };
const conform = speaking(conformSaid);

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ connect: false });
});
afterAll(() => world.end());

async function keysOf(provider: string): Promise<Record<string, string>> {
  if (provider !== "karvello") return keysAt(await atDashboard(world.standins, provider), "sandbox");
  const karvello = new AtKarvello(world.standins);
  await karvello.signIn();
  return karvello.keys("sandbox");
}

/** Runs a profile under a name of its own, so that several can be tried in one world. */
async function tried(provider: string, name: string, change: (profile: Profile) => void = () => {}) {
  const shipped = await profileOf(world.rt, provider);
  if (!shipped) throw new Error(provider);
  const profile = structuredClone(shipped);
  profile.id = name;
  change(profile);
  const desk = provider === "karvello" ? null : await atDashboard(world.standins, provider);
  const shop = provider === "thumbra" ? await shopWithFile() : null;
  const found = await conform(world.rt, profile, {
    mode: "test",
    keys: await keysOf(provider),
    patience: 20_000,
    ...(shop && { domain: shop.domain }),
    byHand: async (address) => {
      await desk?.press("sandbox", "address", { address });
      await desk?.press("sandbox", "test");
    },
  });
  shop?.close();
  return found;
}

/** A shop's domain that serves the wallet's file. */
async function shopWithFile() {
  const text = await (await atDashboard(world.standins, "thumbra")).file("sandbox", "thumbra-sandbox");
  const server = createServer((_, response) =>
    response.writeHead(200, { "content-type": "text/plain" }).end(text),
  );
  await new Promise<void>((resolve) => server.listen(0, resolve));
  const close = () => void (server.closeAllConnections(), server.close());
  return { domain: `localhost:${(server.address() as AddressInfo).port}`, close };
}
const failing = (findings: Finding[]) => findings.filter((one) => one.holds === false);
const says = (findings: Finding[], what: string) => findings.find((one) => one.what === what)?.says ?? "";

describe("every shipped profile", () => {
  const shipped = ["karvello", "ostwick", "pennywhistle", "quippa", "thumbra", "ratenhaus"];
  it("includes every method of it that the account has switched on", async () => {
    const later = async () =>
      await tried("pennywhistle", `later-${world.rt.ids.next("p").slice(-6).toLowerCase()}`);
    const off = await later();
    expect(says(off, "Method later (later)")).toMatch(/switched off/);
    const desk = await atDashboard(world.standins, "pennywhistle");
    await desk.press("sandbox", "way", { way: "later" });
    const on = await later();
    expect(failing(on), tableOf(on)).toEqual([]);
    expect(on.map((one) => one.what)).toEqual(
      expect.arrayContaining(["Outcome approved", "Outcome approved (later)", "refund (later)"]),
    );
    await desk.press("sandbox", "way", { way: "later" });
  });

  it("is read and no more in live, where payments would move money", async () => {
    const profile = structuredClone(await profileOf(world.rt, "quippa"));
    if (!profile) throw new Error("quippa");
    profile.id = "live-quippa";
    const keys = await keysAt(await atDashboard(world.standins, "quippa"), "live");
    const findings = await conform(world.rt, profile, { mode: "live", keys, patience: 20_000 });
    expect(failing(findings), tableOf(findings)).toEqual([]);
    expect(findings.map((one) => one.what)).toEqual(expect.arrayContaining(["list", "find, nothing there"]));
    expect(says(findings, "Payments")).toMatch(/would move money/);
  });

  it.each(shipped)("%s holds against its sandbox, in all it declares", async (provider) => {
    const findings = await tried(provider, `try-${provider}`);
    expect(failing(findings), tableOf(findings)).toEqual([]);
    const { instruments } = JSON.parse(readFileSync(`profiles/${provider}.json`, "utf8")) as Profile;
    const hasButton = provider === "pennywhistle" || provider === "thumbra";
    expect(says(findings, "A purchase by the button") !== "").toBe(hasButton);
    if (provider === "karvello") expect(says(findings, "removeWebhook")).toBe("Our address is taken off.");
    if (provider === "karvello")
      expect(findings.filter((one) => one.holds === true).map((one) => one.what)).toEqual(
        expect.arrayContaining([
          ...["capture in two parts", "release in part", "Play authorisation-ends"],
          ...[
            "dispute, won: opens",
            "answerDispute",
            "Play dispute-won",
            "Play dispute-lost",
            "acceptDispute",
          ],
          ...["decideReview, pass", "decideReview, refuse"],
          ...["listPayouts", "listDisputes"],
        ]),
      );
    const keeping = [
      "kept",
      "kept, used",
      "kept, charged without the shopper",
      "kept, refused later",
      "forget",
    ];
    const held = findings.filter((one) => one.holds).map((one) => one.what);
    if (provider === "karvello") expect(held).toEqual(expect.arrayContaining([...keeping, "kept, verified"]));
    if (provider === "pennywhistle") expect(held).toEqual(expect.arrayContaining(keeping));
    expect(held.includes("quote")).toBe(provider === "ratenhaus");
    for (const one of instruments) expect(findings.map((f) => f.what)).toContain(`Outcome ${one.case}`);
    expect(tableOf(findings)).toMatch(/, 0 fail,/);
  });
});

it("the guide's example holds as well, so that its walk-through ends in a working connection", async () => {
  const example = JSON.parse(
    readFileSync("docs/example-profile.json", "utf8").replaceAll("http://localhost:4100", world.standins),
  ) as Profile;
  const { "merchant-id": id = "", "api-key": key = "" } = await keysOf("quippa");
  const findings = await conform(world.rt, example, {
    mode: "test",
    keys: { "merchant-id": id, "api-key": key },
    patience: 20_000,
  });
  expect(failing(findings), tableOf(findings)).toEqual([]);
  expect(findings.map((one) => one.what)).toContain("Outcome insufficient-funds");
});

describe("a profile that is wrong", () => {
  it("fails with what to mend, and the exchange at fault", async () => {
    const findings = await tried("quippa", "wrong-quippa", (profile) => {
      profile.declines = { "Q-NOFUNDS": "expired-card" };
      delete profile.statuses.returned;
      profile.problems.Q2001 = "malformed";
    });
    expect(says(findings, "Outcome insufficient-funds")).toMatch(
      /“Q-NOFUNDS” means expired-card in “declines”; this case is insufficient-funds/,
    );
    expect(says(findings, "read, nothing there")).toMatch(
      /refused as malformed \(Q2001\); “problems” should say not-found/,
    );
    const fault = failing(findings).find((one) => one.what === "Outcome insufficient-funds");
    expect(fault?.exchange?.request?.url).toMatch(/\/quippa\/sandbox\/api\/codes\//);
    expect(tableOf(findings)).toMatch(/FAILS +Outcome insufficient-funds/);
    expect(tableOf(findings)).not.toContain((await keysOf("quippa"))["api-key"]);
  });

  it("says what it does not understand of what is kept", async () => {
    const findings = await tried("pennywhistle", "odd-pennywhistle", (profile) => {
      profile.problems.word_over = "malformed";
    });
    expect(says(findings, "forget")).toBe(
      "It is refused as malformed (word_over); “problems” should say kept-gone.",
    );
    const silent = await tried("pennywhistle", "silent-pennywhistle", (profile) => {
      profile.payment = profile.payment?.replace("'kept': ", "'keeps': ");
    });
    expect(says(silent, "kept")).toMatch(/nothing is told to be kept: does “payment” say “kept”/);
  });

  it("says what it does not understand of disputes, parts and payouts", async () => {
    const desk = await atDashboard(world.standins, "karvello");
    await desk.press("sandbox", "send-out");
    const findings = await tried("karvello", "odd-karvello", (profile) => {
      delete profile.disputes?.for_shop;
      profile.reviews = { looking: "passed", clear: "passed", stopped: "refused" };
      profile.payouts = { booked: "announced" };
      const { listDisputes } = profile.operations;
      if (listDisputes) listDisputes.response = listDisputes.response.replace(/slip|your_ref/g, "no");
      profile.payment = profile.payment?.replace("'releases': ", "'oddly': ");
    });
    const wrong = failing(findings).map((one) => one.what);
    expect(wrong).toEqual(expect.arrayContaining(["Play dispute-won", "listPayouts", "release in part"]));
    expect(says(findings, "decideReview, pass")).toMatch(/should be open: do “reviews” say so/);
    expect(says(findings, "listDisputes")).toMatch(/do “reference” or “ref” name it/);
    expect(says(findings, "listPayouts")).toMatch(/“landed” is not in “payouts”/);
    const short = await tried("karvello", "short-karvello", (profile) => {
      const { readPayout } = profile.operations;
      if (readPayout) readPayout.response = readPayout.response.replace("'net': net", "'net': sum");
    });
    expect(says(short, "readPayout")).toMatch(/entries come to .* EUR, and .* EUR was paid/);
  });

  it("says which mapping does not give an account, and goes no further", async () => {
    const findings = await tried("ostwick", "wrong-ostwick", (profile) => {
      const { account } = profile.operations;
      if (account) account.response = "{'account': OUTLET, 'name': NAME, 'country': NAME, 'currencies': []}";
    });
    expect(says(findings, "account")).toMatch(/does not fit \(operations.account.response → /);
    expect(findings.some((one) => one.what.startsWith("Outcome"))).toBe(false);
  });

  it("notices a quote that would tell less than is paid", async () => {
    const findings = await tried("ratenhaus", "cheap-ratenhaus", (profile) => {
      const { quote } = profile.operations;
      if (quote) quote.response = quote.response.replace("'total': comes_to", "'total': instalment");
    });
    expect(says(findings, "quote")).toMatch(/come to less than what was asked for/);
  });

  it("notices a signature that is read otherwise than it is made", async () => {
    const findings = await tried("ratenhaus", "wrong-ratenhaus", (profile) => {
      const signing = profile.webhooks?.signing;
      if (signing?.scheme === "http-message-signature") signing.components.push("@authority");
    });
    expect(says(findings, "Webhook, a signed message")).toMatch(/refused: component-missing/);
  });
});
