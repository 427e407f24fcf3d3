// node scripts/profile-types.mjs: writes core/profiles/profile-types.ts from the published schema, so that no type of a
// profile is written twice.
import { compile } from "json-schema-to-typescript";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { format, resolveConfig } from "prettier";
import { root } from "./setup.mjs";

const schema = JSON.parse(readFileSync(join(root, "core/profiles/profile.schema.json"), "utf8"));

/** A reference alone: what stands beside it would make another type of it. */
const bare = (node) => {
  if (Array.isArray(node)) return node.map(bare);
  if (typeof node !== "object" || node === null) return node;
  if (typeof node.$ref === "string") return { $ref: node.$ref };
  return Object.fromEntries(Object.entries(node).map(([key, value]) => [key, bare(value)]));
};

/** The types of a profile and the lists of its closed sets of words, as TypeScript. */
export async function profileTypes() {
  const types = await compile({ ...bare(schema), title: "Profile" }, "Profile", {
    bannerComment: "",
    additionalProperties: false,
    ignoreMinAndMaxItems: true,
    unknownAny: true,
    format: false,
  });
  const lists = Object.entries(schema.$defs)
    .filter(([, { enum: words }]) => words)
    .map(
      ([name, { title, enum: words }]) =>
        `export const ${name}s: readonly ${title}[] = ${JSON.stringify(words)};`,
    );
  const text = [
    "// Made from profile.schema.json by node scripts/profile-types.mjs; change the schema, not this file.",
    types,
    ...lists,
  ].join("\n");
  const file = join(root, "core/profiles/profile-types.ts");
  return { file, text: await format(text, { ...(await resolveConfig(file)), filepath: file }) };
}

if (process.argv[1]?.endsWith("profile-types.mjs")) {
  const { file, text } = await profileTypes();
  writeFileSync(file, text);
}
