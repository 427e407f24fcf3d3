import { randomBytes } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { ESLint } from "eslint";
import pino from "pino";
import { describe, expect, it } from "vitest";
import { isPrivate } from "./wire/addresses";
import { logOptions } from "./runtime";
import { sealWith } from "./seal";
import { readSettings, SettingsError } from "./settings";

const whole = {
  ZAHLUNG_DATABASE_URL: "file:data/z.db",
  ZAHLUNG_MASTER_KEY: randomBytes(32).toString("base64"),
  ZAHLUNG_ORIGIN: "https://pay.example.com",
  PORT: "4000",
};
const complaints = (change: Record<string, string | undefined>) => {
  try {
    readSettings({ ...whole, ...change }, { production: true });
    return [];
  } catch (error) {
    if (error instanceof SettingsError) return error.problems;
    throw error;
  }
};

describe("settings", () => {
  it("are complete, or say which is missing or malformed", () => {
    expect(complaints({})).toEqual([]);
    for (const name of Object.keys(whole))
      expect(complaints({ [name]: undefined })).toEqual([`${name} is missing.`]);
    expect(complaints({ ZAHLUNG_MASTER_KEY: "short" })[0]).toMatch(/ZAHLUNG_MASTER_KEY must be 32 bytes/);
    expect(complaints({ ZAHLUNG_ORIGIN: "https://pay.example.com/path" })[0]).toMatch(/ZAHLUNG_ORIGIN/);
    expect(complaints({ PORT: "http" })[0]).toMatch(/PORT/);
    expect(complaints({ ZAHLUNG_DATABASE_URL: "mysql://x" })[0]).toMatch(/ZAHLUNG_DATABASE_URL/);
    expect(complaints({ ZAHLUNG_ROLES: "web,cook" })[0]).toMatch(/ZAHLUNG_ROLES/);
  });
});

describe("the log", () => {
  it("keeps an error's message, its stack and its cause, and no secret", () => {
    let line = "";
    const log = pino(logOptions({ logLevel: "info" }), { write: (text: string) => void (line = text) });
    const error = new Error("the job broke", { cause: new Error("the disk is full") });
    log.error({ err: error, token: "a-token", call: { secret: "a-secret" } }, "it failed");
    const { err } = JSON.parse(line) as { err: { message: string; stack: string } };
    expect(err.message).toContain("the job broke");
    expect(err.stack).toContain("ground.test.ts");
    expect(err.stack).toContain("the disk is full");
    expect(line).not.toMatch(/a-secret|a-token/);
  });

  it("is given errors in the one way that keeps them", () => {
    const files = ["app", "server"].flatMap((folder) =>
      readdirSync(folder, { recursive: true, encoding: "utf8" }).map((name) => join(folder, name)),
    );
    const wrong = files
      .filter((name) => /\.tsx?$/.test(name))
      .filter((name) => /\blog\.\w+\(\s*\{[^}]*(?<!err: )\berror\b\s*[,}]/.test(readFileSync(name, "utf8")));
    expect(wrong).toEqual([]);
  });
});

describe("the seal", () => {
  it("opens only what it closed, for the same purpose, unchanged", () => {
    const seal = sealWith(randomBytes(32));
    const closed = seal.close("kvs.s.secret", "key:1");
    expect(closed).not.toContain("secret");
    expect(seal.open(closed, "key:1")).toBe("kvs.s.secret");
    expect(seal.close("kvs.s.secret", "key:1")).not.toBe(closed);
    expect(() => seal.open(closed, "key:2")).toThrow();
    expect(() => sealWith(randomBytes(32)).open(closed, "key:1")).toThrow();
    const parts = closed.split(".");
    parts[2] = Buffer.from("other").toString("base64url");
    expect(() => seal.open(parts.join("."), "key:1")).toThrow();
    expect(() => sealWith(randomBytes(16))).toThrow(RangeError);
  });
});

describe("addresses", () => {
  it("tell private ones from public ones", () => {
    for (const ip of [
      "127.0.0.1",
      "10.1.2.3",
      "172.20.0.1",
      "192.168.1.1",
      "169.254.169.254",
      "0.0.0.0",
      "::1",
      "fe80::1",
      "fd00::1",
    ]) {
      expect(isPrivate(ip), ip).toBe(true);
    }
    for (const ip of ["192.0.2.1", "203.0.113.7", "::ffff:203.0.113.7", "2001:db8::1"])
      expect(isPrivate(ip), ip).toBe(false);
  });
});

describe("the direction of imports", () => {
  const lint = new ESLint({ cwd: process.cwd() });
  const refused = async (file: string, text: string) =>
    (await lint.lintText(text, { filePath: file }))[0]?.messages.some(
      (one) => one.ruleId === "no-restricted-imports",
    ) ?? false;
  it.each([
    ["core/new.ts", 'import "#server/runtime";'],
    ["core/new.ts", 'import "../app/root";'],
    ["core/deep/new.ts", 'import "../../server/runtime";'],
    ["core/new.ts", 'import "react";'],
    ["core/new.ts", 'import "node:fs";'],
    ["server/new.ts", 'import "../app/root";'],
    ["server/deep/new.ts", 'import "../../standins/html";'],
    ["app/new.tsx", 'import "../standins/html";'],
    ["app/new.tsx", 'import "../demo/scenario";'],
    ["standins/new.ts", 'import "#core/money/money";'],
    ["standins/shop/new.ts", 'import "../../server/runtime";'],
    ["demo/new.ts", 'import "../app/root";'],
  ])("is held to in %s: %s", async (file, text) => expect(await refused(file, text)).toBe(true));

  it.each([
    ["server/new.ts", 'import "#core/money/money";'],
    ["app/new.tsx", 'import "#server/runtime";'],
    ["app/deep/new.tsx", 'import "../parts/form";'],
    ["demo/new.ts", 'import "#server/runtime";'],
  ])("lets through what follows it, in %s: %s", async (file, text) =>
    expect(await refused(file, text)).toBe(false),
  );
});
