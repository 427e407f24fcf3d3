// node scripts/profile-keys.mjs: writes docs/profile-keys.md from the published schema, so that it cannot go stale.
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { format, resolveConfig } from "prettier";
import { root } from "./setup.mjs";

const schema = JSON.parse(readFileSync(join(root, "core/profiles/profile.schema.json"), "utf8"));

const typeOf = (node) => {
  if (node.$ref) {
    const name = node.$ref.split("/").at(-1);
    return schema.$defs[name].enum ? typeOf(schema.$defs[name]) : name;
  }
  if (node.const !== undefined) return JSON.stringify(node.const);
  if (node.enum) return node.enum.map((one) => `\`${one}\``).join(", ");
  if (node.oneOf || node.anyOf) return "one of several forms";
  if (node.type === "array") return `list of ${typeOf(node.items ?? {})}`;
  if (Array.isArray(node.type)) return node.type.join(" or ");
  return node.type ?? "object";
};
const cell = (text) => String(text).replaceAll("|", "\\|").replaceAll("\n", " ");

function table(node) {
  const rows = Object.entries(node.properties ?? {}).map(([name, one]) => {
    const must = (node.required ?? []).includes(name) ? "" : " (may be left out)";
    const example = one.examples ? `\`${JSON.stringify(one.examples[0])}\`` : "";
    return `| \`${name}\`${must} | ${cell(typeOf(one))} | ${cell(one.description ?? "")} | ${cell(example)} |`;
  });
  return ["| key | what it is | meaning | example |", "| --- | --- | --- | --- |", ...rows].join("\n");
}

const parts = [];
function section(title, node, depth = 2) {
  const target = node.type === "array" ? (node.items ?? {}) : node;
  if (target.properties)
    parts.push(`${"#".repeat(depth)} ${title}`, "", node.description ?? "", "", table(target), "");
  for (const form of target.oneOf ?? []) {
    const by = form.properties?.scheme?.const ?? form.properties?.kind?.const;
    parts.push(`${"#".repeat(depth)} ${title}: \`${by}\``, "", table(form), "");
  }
  for (const [name, one] of Object.entries(target.properties ?? {})) {
    const inner = one.type === "array" ? (one.items ?? {}) : one;
    if (inner.properties || inner.oneOf)
      section(`${title === "A profile" ? "" : `${title}, `}\`${name}\``, one, 3);
  }
}

/** The reference of every key, as Markdown. */
export async function profileKeys() {
  parts.length = 0;
  section("A profile", schema);
  for (const [name, node] of Object.entries(schema.$defs)) section(name, node);
  const text = [
    "# Every key of a profile",
    "",
    "Made from the [schema](../core/profiles/profile.schema.json) by `node scripts/profile-keys.mjs`. Amounts are minor units of their currency, percents are of the order's total, times are seconds where nothing else is said.",
    "",
    ...parts,
  ].join("\n");
  const file = join(root, "docs/profile-keys.md");
  return { file, text: await format(text, { ...(await resolveConfig(file)), filepath: file }) };
}

if (process.argv[1]?.endsWith("profile-keys.mjs")) {
  const { file, text } = await profileKeys();
  writeFileSync(file, text);
}
