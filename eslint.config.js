import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** Imports run app → server → core, never back; the outside world shares nothing with any of them. */
const rooms = {
  core: { may: [], also: "core thinks: no React, no database, no network, no files" },
  server: { may: ["core"], also: "server knows no React and no pages" },
  app: { may: ["core", "server"], also: "pages know nothing of demo, tests or the outside world" },
  standins: { may: [], also: "the outside world speaks HTTP only" },
  demo: { may: ["core", "server"], also: "the demo goes through the server's own functions" },
};
const all = [...Object.keys(rooms), "e2e", "bench"];

/** Forbids the other rooms, however they are named: by alias or by a relative path that leaves the room. */
function direction(room, { may, also }) {
  const closed = all.filter((other) => other !== room && !may.includes(other));
  return {
    files: [`${room}/**/*.{ts,tsx}`],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: [
            { regex: `^#(${closed.join("|")})/`, message: also },
            { regex: `^(\\.\\./)+(${closed.join("|")})/`, message: also },
          ],
        },
      ],
    },
  };
}

const thinking = [
  "@internationalized/date",
  "colord",
  "fast-xml-parser",
  "http-link-header",
  "ajv",
  "canonicalize",
  "ibantools",
  "jose",
  "jsonata",
  "jsonc-parser",
  "minisearch",
  "papaparse",
].concat(["re2js", "standardwebhooks", "structured-headers", "yup", "node:crypto"]);

const pure = {
  files: ["core/**/*.ts"],
  ignores: ["**/*.test.ts"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          { regex: "^#(app|server|demo)/", message: rooms.core.also },
          { regex: "^(\\.\\./)+(app|server|standins|demo|e2e|bench)/", message: rooms.core.also },
          // Packages that compute and do nothing else; one that is not here has no place in the core.
          { regex: `^(?!(${thinking.join("|")})(/|$))[a-z@]`, message: rooms.core.also },
        ],
      },
    ],
    "no-restricted-globals": [
      "error",
      ...["fetch", "process", "window", "document", "navigator", "localStorage", "console", "performance"],
      ...["setTimeout", "setInterval", "setImmediate", "queueMicrotask", "globalThis", "crypto"],
    ],
    "no-restricted-properties": [
      "error",
      { object: "Date", property: "now", message: "The clock comes in as an argument." },
      { object: "Math", property: "random", message: "Randomness comes in as an argument." },
    ],
    "no-restricted-syntax": [
      "error",
      {
        selector: "NewExpression[callee.name='Date'][arguments.length=0]",
        message: "The clock comes in as an argument.",
      },
      {
        selector: "ImportSpecifier[imported.name=/^(random|generateKey)/]",
        message: "Randomness comes in as an argument.",
      },
    ],
  },
};

const noReact = {
  files: ["server/**/*.ts"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          { regex: "^#(app|demo)/", message: rooms.server.also },
          { regex: "^(\\.\\./)+(app|standins|demo|e2e|bench)/", message: rooms.server.also },
          { regex: "^(react|react-|styled)", message: rooms.server.also },
        ],
      },
    ],
  },
};

export default tseslint.config(
  {
    ignores: [
      "build/",
      "data/",
      ".react-router/",
      "node_modules/",
      "public/embed/",
      "test-results/",
      "server/database/migrations/",
    ],
  },
  ...tseslint.configs.recommended,
  {
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/consistent-type-imports": ["error", { fixStyle: "inline-type-imports" }],
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      eqeqeq: ["error", "always", { null: "ignore" }],
      "no-console": "off",
      "no-empty-pattern": "off",
    },
  },
  {
    files: ["app/**/*.{ts,tsx}"],
    plugins: { "react-hooks": reactHooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  direction("app", rooms.app),
  direction("standins", rooms.standins),
  direction("demo", rooms.demo),
  noReact,
  pure,
);
