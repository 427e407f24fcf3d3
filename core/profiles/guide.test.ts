import { readFileSync } from "node:fs";
import { Ajv2020 } from "ajv/dist/2020.js";
import { describe, expect, it } from "vitest";
import { profileKeys } from "../../scripts/profile-keys.mjs";
import { readDocument } from "./document";
import { answersPayments, operationNames, problemKinds, readingKinds } from "./profile";
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

describe("the published schema", () => {
  it("is a schema of JSON Schema 2020-12", () => {
    expect(new Ajv2020({ strict: false }).validateSchema(profileSchema)).toBe(true);
  });

  it("knows the same operations, problems and statuses as the code", () => {
    const { properties } = profileSchema as {
      properties: Record<string, { properties?: object; additionalProperties?: { enum?: string[] } }>;
    };
    expect(Object.keys(properties.operations?.properties ?? {}).sort()).toEqual([...operationNames].sort());
    expect(properties.problems?.additionalProperties?.enum).toEqual([...problemKinds]);
    expect(properties.statuses?.additionalProperties?.enum).toEqual([...readingKinds]);
    for (const name of answersPayments) expect(operationNames).toContain(name);
  });
});
