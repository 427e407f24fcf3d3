import { readFileSync } from "node:fs";
import { Ajv2020 } from "ajv/dist/2020.js";
import { describe, expect, it } from "vitest";
import { profileKeys } from "../../scripts/profile-keys.mjs";
import { profileTypes } from "../../scripts/profile-types.mjs";
import { readDocument } from "./document";
import { expressionRefused } from "./expressions";
import { answersPayments, operationNames } from "./profile";
import { profileSchema } from "./read-profile";

describe("the guide to profiles", () => {
  it("lists every key as the schema has it (renew it with: node scripts/profile-keys.mjs)", async () => {
    const { file, text } = await profileKeys();
    expect(readFileSync(file, "utf8")).toBe(text);
  });

  it("walks through a document that can be installed", () => {
    expect(readDocument(readFileSync("docs/example-profile.json", "utf8"))).toMatchObject({
      ok: true,
      profile: { id: "sandpiper" },
    });
  });
});

describe("what the guide explains", () => {
  const guide = readFileSync("docs/profiles.md", "utf8");

  it.each(operationNames)("says what %s is for", (name) => {
    expect(guide).toContain(`\`${name}\``);
  });

  it("shows examples that are JSON, with mappings that can be read", () => {
    const examples = [...guide.matchAll(/```json\n([\s\S]*?)```/g)].map(([, text = ""]) => text);
    expect(examples.length).toBeGreaterThan(10);
    for (const text of examples) {
      const example = JSON.parse(`{${text}}`) as Record<string, unknown>;
      const mappings = Object.values(example).flatMap((one) =>
        typeof one === "object" && one !== null && "response" in one ? [String(one.response)] : [],
      );
      for (const mapping of mappings) expect(expressionRefused(mapping), mapping).toBeUndefined();
    }
  });
});

describe("the published schema", () => {
  it("is where the types of a profile come from (renew them with: node scripts/profile-types.mjs)", async () => {
    const { file, text } = await profileTypes();
    expect(readFileSync(file, "utf8")).toBe(text);
  });

  it("is a schema of JSON Schema 2020-12", () => {
    expect(new Ajv2020({ strict: false }).validateSchema(profileSchema)).toBe(true);
  });

  it("has a place for every operation that it names", () => {
    const { properties } = profileSchema as { properties: { operations: { properties: object } } };
    expect(Object.keys(properties.operations.properties).sort()).toEqual([...operationNames].sort());
    for (const name of answersPayments) expect(operationNames).toContain(name);
  });
});
