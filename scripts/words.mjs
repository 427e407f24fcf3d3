// Holds what core, server and pages say against the catalogues: each code has its sentence and each sentence its code, in ICU
// MessageFormat that can be read, with just the places that are filled. Run before every build.
import { parse, TYPE } from "@formatjs/icu-messageformat-parser";
import { readdirSync, readFileSync } from "node:fs";
import { basename, join } from "node:path";
import { fileURLToPath } from "node:url";
import ts from "typescript";

const root = join(fileURLToPath(import.meta.url), "../..");
/** Functions that make something said, and which of their arguments is the code. */
const saying = { said: 0, problem: 1, refuse: 1 };

/** The sentences of a language, by code. */
export function sentencesOf(folder) {
  const files = readdirSync(folder).filter((name) => name.endsWith(".json"));
  return new Map(
    files.flatMap((file) =>
      Object.entries(JSON.parse(readFileSync(join(folder, file), "utf8"))).map(([key, sentence]) => [
        `${file.slice(0, -".json".length)}.${key}`,
        sentence,
      ]),
    ),
  );
}

function placesOf(elements, found = new Set()) {
  for (const element of elements) {
    if (![TYPE.literal, TYPE.pound].includes(element.type)) found.add(element.value);
    for (const option of Object.values(element.options ?? {})) placesOf(option.value, found);
    if (element.children) placesOf(element.children, found);
  }
  return found;
}

const parsed = new Map();

/** A source file as the compiler reads it, once for all that is looked for in it. */
function sourceOf(name, text) {
  const known = parsed.get(name);
  if (known?.text === text) return known;
  const file = ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true);
  parsed.set(name, file);
  return file;
}

/** The names of the values that an object gives; null where they cannot be told. */
function namesOf(node) {
  if (!node) return [];
  if (!ts.isObjectLiteralExpression(node) || node.properties.some(ts.isSpreadAssignment)) return null;
  return node.properties.map((property) => property.name.getText().replace(/"/g, ""));
}

/** What a page says of its catalogue: each key, after the catalogue's name, with the names of its values. */
export function pageKeysIn(name, text) {
  const file = sourceOf(name, text);
  let catalogue = null;
  const keys = [];
  const see = (node) => {
    if (ts.isImportDeclaration(node) && /\/words\/pages\/[a-z-]+$/.test(node.moduleSpecifier.text))
      catalogue = basename(node.moduleSpecifier.text);
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && node.expression.text === "t") {
      const [key, values] = node.arguments;
      if (key && ts.isStringLiteralLike(key))
        keys.push({ code: `${catalogue}.${key.text}`, values: namesOf(values) });
      else throw new Error(`${name} makes a key of its own: ${node.getText()}`);
    }
    ts.forEachChild(node, see);
  };
  see(file);
  return keys;
}

/** Attributes and properties that people read or are read. */
const readable =
  /^(alt|aria-label|aria-description|empty|head|hint|label|legend|no|placeholder|says|summary|title|words|wrong|yes)$/;

/** Words of a page that stand in it rather than in a catalogue. */
export function bareWordsIn(name, text) {
  const file = sourceOf(name, text);
  const found = [];
  // Codes, addresses and the product's own name are no words.
  const hasWords = (node) =>
    ts.isStringLiteralLike(node) &&
    /\p{L}{2}/u.test(node.text) &&
    !/^([a-z]+(-[a-z]+)+|https:\/\/.*|Zahlung)$/.test(node.text);
  const see = (node) => {
    const named = (ts.isJsxAttribute(node) || ts.isPropertyAssignment(node)) && node.initializer;
    if (ts.isJsxText(node) && /\p{L}{2}/u.test(node.text) && node.text.trim() !== "Zahlung")
      found.push(node.text.trim());
    else if (
      ts.isJsxExpression(node) &&
      node.expression &&
      hasWords(node.expression) &&
      !ts.isJsxAttribute(node.parent)
    )
      found.push(node.expression.text);
    else if (named && hasWords(node.initializer) && readable.test(node.name.getText().replace(/"/g, "")))
      found.push(node.initializer.text);
    ts.forEachChild(node, see);
  };
  see(file);
  return found.map((words) => `${name} says “${words}” by itself`);
}

/** Codes in a source file, each with the names of its values; null where they cannot be told. */
export function codesIn(name, text) {
  const file = sourceOf(name, text);
  const codes = [];
  const see = (node) => {
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression)) {
      const at = saying[node.expression.text];
      const code = node.arguments[at];
      if (code && ts.isStringLiteralLike(code) && code.text.includes("."))
        codes.push({ code: code.text, values: namesOf(node.arguments[at + 1]) });
      else if (code && ts.isTemplateExpression(code))
        codes.push({
          family: new RegExp(
            `^${[code.head.text, ...code.templateSpans.map((span) => span.literal.text)]
              .map((part) => part.replace(/[.]/g, "\\."))
              .join("[a-z-]+")}$`,
          ),
        });
    }
    ts.forEachChild(node, see);
  };
  see(file);
  return codes;
}

/** What is wrong between the codes that are used and the sentences that there are; empty when nothing is. */
export function complaintsAbout(codes, sentences) {
  const complaints = [];
  const used = new Set();
  for (const { code, values, family } of codes) {
    if (family) {
      const members = [...sentences.keys()].filter((key) => family.test(key));
      if (members.length === 0) complaints.push(`no sentence fits ${family.source}`);
      for (const member of members) used.add(member);
      continue;
    }
    used.add(code);
    const sentence = sentences.get(code);
    if (sentence === undefined) {
      complaints.push(`${code} has no sentence`);
      continue;
    }
    if (values === null) continue;
    try {
      const places = placesOf(parse(sentence));
      for (const place of places)
        if (!values.includes(place)) complaints.push(`${code}: {${place}} is not filled`);
      for (const value of values)
        if (!places.has(value)) complaints.push(`${code}: ${value} has no place in its sentence`);
    } catch (error) {
      complaints.push(`${code} cannot be read: ${error.message}`);
    }
  }
  for (const [code, sentence] of sentences) {
    if (!used.has(code)) complaints.push(`${code} is used nowhere`);
    try {
      parse(sentence);
    } catch (error) {
      complaints.push(`${code} cannot be read: ${error.message}`);
    }
  }
  return [...new Set(complaints)];
}

/** What is wrong with the words of the checkout: a key that nothing uses, or that a language lacks or has too many. */
export function checkoutComplaints(catalogues, source) {
  const keysOf = (words, before = "") =>
    Object.entries(words).flatMap(([key, value]) =>
      typeof value === "string" ? [before + key] : keysOf(value, `${before}${key}.`),
    );
  const english = keysOf(catalogues.en);
  return [
    ...Object.keys(catalogues.en)
      .filter((key) => !new RegExp(`\\bwords\\.${key}\\b`).test(source))
      .map((key) => `checkout ${key} is used nowhere`),
    ...Object.entries(catalogues).flatMap(([language, words]) => {
      const own = keysOf(words);
      return [
        ...english
          .filter((key) => !own.includes(key))
          .map((key) => `checkout ${key} is missing in ${language}`),
        ...own
          .filter((key) => !english.includes(key))
          .map((key) => `checkout ${key} is too many in ${language}`),
      ];
    }),
  ];
}

function checkout() {
  const folder = join(root, "app/words/checkout");
  const catalogues = Object.fromEntries(
    readdirSync(folder).map((file) => [
      file.slice(0, -".json".length),
      JSON.parse(readFileSync(join(folder, file), "utf8")),
    ]),
  );
  const source = sources()
    .filter((name) => ["checkouts", "receipts"].some((room) => name.startsWith(join("app", room))))
    .map((name) => readFileSync(join(root, name), "utf8"))
    .join("\n");
  return checkoutComplaints(catalogues, source);
}

const sources = () =>
  ["app", "core", "server"].flatMap((room) =>
    readdirSync(join(root, room), { recursive: true, encoding: "utf8" })
      .filter((name) => /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name))
      .map((name) => join(room, name)),
  );

/** The complaints about the program as it stands. */
export const complaints = () => [
  ...complaintsAbout(
    sources().flatMap((name) => codesIn(name, readFileSync(join(root, name), "utf8"))),
    sentencesOf(join(root, "app/words/en")),
  ),
  ...complaintsAbout(
    sources()
      .filter((name) => name.startsWith("app"))
      .flatMap((name) => pageKeysIn(name, readFileSync(join(root, name), "utf8"))),
    sentencesOf(join(root, "app/words/pages/en")),
  ),
  // Pages for shoppers are held to their words by a language that is none (app/checkouts/pseudo.test.tsx).
  ...sources()
    .filter((name) => name.startsWith("app") && !name.startsWith(join("app", "checkouts")))
    .flatMap((name) => bareWordsIn(name, readFileSync(join(root, name), "utf8"))),
  ...checkout(),
];

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const found = complaints();
  for (const complaint of found) console.error(complaint);
  if (found.length > 0) process.exit(1);
}
