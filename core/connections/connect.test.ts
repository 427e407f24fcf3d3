import { speaking } from "../../scripts/english";
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Profile } from "../profiles/profile";
import { checkDownload, checkServed, type Served } from "./domain-file";
import { checkForm } from "./form";
import { readPage, readPaste } from "./paste";
import { compareRegistrations, registrationFaults as registrationFaultsSaid } from "./registrations";
import { isSilent, usualDelay } from "./silence";

const registrationFaults = speaking(registrationFaultsSaid);

const profile = (name: string) => JSON.parse(readFileSync(`profiles/${name}.json`, "utf8")) as Profile;

describe("several values pasted at once", () => {
  const karvello = profile("karvello");
  const values = {
    "account-code": "KV-S-207714",
    "frame-key": `kvf.s.${"a".repeat(20)}`,
    "server-key": `kvs.s.${"b".repeat(32)}`,
  };
  const lines = Object.entries(values);

  it("fill the rows they fit, however they were copied", () => {
    const writings = [
      lines.map(([, value]) => value).join("\n"),
      lines.map(([, value]) => value).join("  "),
      lines.map(([name, value]) => `${name.toUpperCase().replace("-", "_")}=${value}`).join("\n"),
      "Account code: KV-S-207714\r\nFrame key:\t" +
        values["frame-key"] +
        "\r\n'Server key': \"" +
        values["server-key"] +
        '"',
      JSON.stringify(values),
      JSON.stringify(
        { account: { code: values["account-code"] }, keys: [values["server-key"], values["frame-key"]] },
        null,
        2,
      ),
    ];
    for (const text of writings) expect(readPaste(karvello, "test", text).fields, text).toEqual(values);
  });

  it("are found anywhere in a line of a whole page, each in the column whose form it has", () => {
    const page = `Karvello   Sandbox   Live side
Signed in as kontor@shop.example
Account: ${values["account-code"]} (open since spring)
Frame keys
The new frame key: ${values["frame-key"]}  Copy
Server keys: issued yesterday ${values["server-key"]} shown once
On the live side: kvf.l.${"c".repeat(20)}`;
    expect(readPage(karvello, page)).toEqual({
      test: values,
      live: { "frame-key": `kvf.l.${"c".repeat(20)}` },
    });
    expect(readPage(karvello, "nothing of value here")).toEqual({ test: {}, live: {} });
  });

  it("say where a value belongs that was pasted into another row or column", () => {
    const field = karvello.fields.find((one) => one.id === "server-key");
    if (!field) throw new Error("no such field");
    expect(checkForm(karvello, field, "live", values["server-key"])).toMatchObject({
      ok: false,
      belongs: { field: "server-key", mode: "test" },
    });
    expect(checkForm(karvello, field, "test", values["frame-key"])).toMatchObject({
      ok: false,
      belongs: { field: "frame-key", mode: "test" },
    });
    expect(checkForm(karvello, field, "test", "nonsense")).not.toHaveProperty("belongs");
  });

  it("say what fitted nowhere, and never fill the other column's keys", () => {
    const reading = readPaste(karvello, "live", `${Object.values(values).join("\n")}\nColour: red`);
    expect(reading.fields).toEqual({});
    expect(reading.left).toHaveLength(4);
    expect(reading.left).toContain("Colour");
  });

  it("go by their name where two fields look alike", () => {
    const quippa = profile("quippa");
    quippa.fields = quippa.fields.map((field) => ({
      ...field,
      pattern: { test: "^[a-z]{5}$", live: "^[a-z]{5}$" },
    }));
    const { fields } = readPaste(quippa, "test", "notice-key: zzzzz\nMerchant ID: aaaaa\nAPI_KEY = kkkkk");
    expect(fields).toEqual({ "notice-key": "zzzzz", "merchant-id": "aaaaa", "api-key": "kkkkk" });
  });

  it("break nothing, whatever is pasted", () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.json()), (text) => {
        for (const value of Object.values(readPaste(karvello, "test", text).fields))
          expect(typeof value).toBe("string");
      }),
    );
  });
});

const { file } = profile("thumbra");
if (!file) throw new Error("thumbra has a domain file");
const text = (mode: "test" | "live") =>
  `thumbra domain file, ${mode === "test" ? "sandbox" : "live"}\nseller ${mode === "test" ? "TS" : "TL"}-kiebitz\nproof ${"0a".repeat(24)}\n`;
const codes = (list: { code: string; blocking: boolean }[]) =>
  list.map((one) => one.code + (one.blocking ? "!" : ""));

describe("a domain file as it was downloaded", () => {
  const check = (name: string, body: string, mode: "test" | "live" = "test") =>
    codes(checkDownload(file, mode, name, body));

  it("is right under its own name, with its own text", () => {
    expect(check("thumbra-sandbox", text("test"))).toEqual([]);
    expect(check("thumbra-live", text("live"), "live")).toEqual([]);
  });

  it("is told of an ending that downloading added", () => {
    for (const name of [
      "thumbra-sandbox.txt",
      "thumbra-sandbox.dms",
      "thumbra-sandbox (1)",
      "thumbra-sandbox(2).txt",
    ])
      expect(check(name, text("test")), name).toEqual(["ending-added"]);
    expect(check("proof.txt", text("test"))).toEqual(["other-name"]);
    expect(check("thumbra-sandbox", `\ufeff${text("test")}`)).toEqual(["byte-order-mark"]);
  });

  it("is refused when it is the other side's, empty, a page, or something else", () => {
    expect(check("thumbra-live", text("live"))).toEqual(["other-mode!", "other-mode!"]);
    expect(check("thumbra-sandbox", "  \n")).toEqual(["empty!"]);
    expect(check("thumbra-sandbox", "<!doctype html>")).toEqual(["not-the-file!"]);
    expect(check("thumbra-sandbox", "x".repeat(20_001))).toEqual(["too-long!"]);
  });
});

describe("a domain file as the shop serves it", () => {
  const good: Served = { ok: true, status: 200, type: "text/plain", location: null, text: text("test") };
  const check = (served: Served, brought: string | null = text("test")) =>
    codes(checkServed(file, "test", "http://shop.example/.well-known/thumbra-sandbox", brought, served));

  it("is right as plain text, and passes as anything but a page", () => {
    expect(check(good)).toEqual([]);
    expect(check(good, null)).toEqual([]);
    expect(check({ ...good, type: "application/octet-stream" })).toEqual([]);
    expect(check({ ...good, type: "text/html" })).toEqual(["served-as-html"]);
  });

  it("is refused when it leads on, is not there, is locked away, is a page, or is another file", () => {
    expect(check({ ...good, status: 301, location: "https://www.shop.example/" })).toEqual(["redirected!"]);
    expect(check({ ...good, status: 404 })).toEqual(["not-served!"]);
    expect(check({ ...good, status: 401 })).toEqual(["not-served!"]);
    expect(check({ ...good, text: "<!DOCTYPE html><p>Hello" })).toEqual(["served-as-html!"]);
    expect(check({ ...good, text: text("live") })).toEqual(["other-mode!"]);
    expect(check({ ...good, text: "nothing of the kind" })).toEqual(["other-content!"]);
    expect(check(good, text("test").replace("0a0a", "0b0b"))).toEqual(["other-content!"]);
    expect(check({ ok: false, says: "it could not be reached." })).toEqual(["unreachable!"]);
  });
});

describe("registrations at a provider", () => {
  const mine = "http://z.example/hooks/new";
  const compare = (list: { id: string; address: string; events?: string[] }[]) =>
    compareRegistrations(list, mine, new Set(["http://z.example/hooks/old"]), ["a", "b"], 5);

  it("are right when ours is there once and listens to all", () => {
    const found = compare([
      { id: "1", address: mine, events: ["b", "a", "c"] },
      { id: "2", address: "https://other.example" },
    ]);
    expect(found).toMatchObject({
      ours: ["1"],
      left: [],
      elsewhere: ["https://other.example"],
      missingEvents: [],
    });
    expect(registrationFaults(found, true)).toEqual([]);
    expect(registrationFaults(compare([{ id: "1", address: mine }]), true)).toEqual([]);
  });

  it("are told of when missing, doubled, left over, or deaf to something", () => {
    expect(registrationFaults(compare([]), true)).toEqual(["The provider no longer lists this address."]);
    expect(registrationFaults(compare([]), false)).toEqual([]);
    expect(
      registrationFaults(
        compare([
          { id: "1", address: mine },
          { id: "2", address: mine },
        ]),
        true,
      )[0],
    ).toMatch(/registered 2 times/);
    expect(registrationFaults(compare([{ id: "1", address: mine, events: ["a"] }]), true)).toEqual([
      "It does not listen to b.",
    ]);
    const left = compare([
      { id: "1", address: mine },
      { id: "9", address: "http://z.example/hooks/old" },
    ]);
    expect(left.left.map((one) => one.id)).toEqual(["9"]);
    expect(registrationFaults(left, true)[0]).toMatch(/gave up is still registered/);
  });
});

describe("an address that hears nothing", () => {
  it("is measured by its own history: the 99th percentile, ten minutes where there is none", () => {
    expect(usualDelay([])).toBe(600_000);
    expect(usualDelay([1, 2, 3])).toBe(600_000);
    expect(usualDelay(Array.from({ length: 100 }, (_, i) => (i + 1) * 10))).toBe(990);
    expect(usualDelay(Array.from({ length: 1000 }, (_, i) => (i < 995 ? 200 : 90_000)))).toBe(200);
  });

  it("counts as silent only well past that", () => {
    expect(isSilent(119_000, 60_000)).toBe(false);
    expect(isSilent(121_000, 60_000)).toBe(true);
    expect(isSilent(59_000, 200)).toBe(false);
    expect(isSilent(61_000, 200)).toBe(true);
  });
});
