import { transformAsync } from "@babel/core";
import { reactRouter } from "@react-router/dev/vite";
import optimizeLocales from "@react-aria/optimize-locales-plugin";
import { defineConfig, type Plugin } from "vite";
import { compiledWords } from "./scripts/compiled-words.mjs";
import { complaints } from "./scripts/words.mjs";

/** Gives styled components the same class names on server and browser, whatever order modules load in. */
function stableClassNames(): Plugin {
  return {
    name: "stable-class-names",
    enforce: "pre",
    async transform(code, id) {
      const file = id.split("?")[0] ?? id;
      if (!/\/app\/.*\.tsx?$/.test(file) || !code.includes("styled-components")) return null;
      const result = await transformAsync(code, {
        filename: file,
        configFile: false,
        babelrc: false,
        sourceMaps: true,
        parserOpts: { plugins: ["typescript", "jsx"] },
        plugins: [
          ["babel-plugin-styled-components", { ssr: true, displayName: false, fileName: false, pure: true }],
        ],
      });
      return result?.code ? { code: result.code, map: result.map } : null;
    },
  };
}

/** Parts of the component library that only dates, numbers and long lists take, wherever in it they lie. */
const ofFew =
  /useDateFormatter|useNumberFormatter|useFilter|useListFormatter|useMessageFormatter|useModal|useDeepMemo|useSlot\./;
const ofMost = [
  /react-aria\/dist\/private\/(i18n|label|ssr|dialog|overlays|focus|interactions|utils|button|selection|collections|visually-hidden|live-announcer|aria-modal-polyfill)\//,
  /react-aria-components\/dist\/private\/(Popover|Dialog|Button|Text|Header|Heading|utils|Collection|OverlayArrow|Keyboard|SelectionIndicator)\./,
];

/** What every page is made of, for shoppers too. */
const ofAll =
  /\/app\/(theme\/tokens|parts\/(form|sheet|marks|when|zone|cookie|reach|live)|words\/words-of|words\/pages\/(en\/)?everywhere)\.(tsx?|json)$/;

/**
 * What most pages take of the component library stays in one piece: split, it is larger to send. What every page needs
 * stands apart from it, or the first screen and the pages for shoppers, which need none of it, would be sent it too.
 */
const pieces = (id: string) =>
  /node_modules\/(react|react-dom|scheduler|use-sync-external-store)\//.test(id)
    ? "react"
    : ofAll.test(id)
      ? "pages"
      : /node_modules\/@internationalized\/(number|date)\//.test(id)
        ? "dates"
        : !ofFew.test(id) && ofMost.some((one) => one.test(id))
          ? "components"
          : undefined;

/** Packages of so many files that a process which looks for each of them starts a second later. */
const manyFiles = [
  /^react-aria/,
  /^react-stately/,
  /^@react-aria\//,
  /^@internationalized\//,
  /^drizzle-orm/,
  /^jose/,
];

/** Fails the build when a code of core or server has no sentence, or a sentence is said nowhere. */
function wholeCatalogues(): Plugin {
  return {
    name: "whole-catalogues",
    apply: "build",
    buildStart() {
      const found = complaints();
      if (found.length > 0) this.error(found.join("\n"));
    },
  };
}

export default defineConfig(({ command, isSsrBuild }) => ({
  plugins: [
    stableClassNames(),
    wholeCatalogues(),
    compiledWords(),
    { ...optimizeLocales.vite({ locales: ["en-US"] }), enforce: "pre" as const },
    reactRouter(),
  ],
  environments: {
    ssr: { build: { rollupOptions: { input: "./app/entry.node.ts" } } },
    client: { build: { rollupOptions: { output: { manualChunks: pieces } } } },
  },
  ssr: {
    noExternal: ["styled-components", ...(command === "build" ? manyFiles : [])],
    external: ["@libsql/client", "libsql"],
  },
  build: { target: isSsrBuild ? "node20" : "es2022", sourcemap: false },
  optimizeDeps: {
    include: [
      "react",
      "react/jsx-runtime",
      "react/jsx-dev-runtime",
      "react-dom",
      "react-dom/client",
      "react-router",
      "react-router/dom",
      "styled-components",
      "react-aria-components",
      "lucide-react",
      "stylis",
      "@emotion/is-prop-valid",
      "canonicalize",
      "intl-messageformat",
      "react-aria/useField",
      "react-aria/useCheckbox",
      "react-aria/useDrop",
      "react-aria/useRadioGroup",
      "react-stately/useRadioGroupState",
      "react-stately/useToggleState",
      "react-stately/useTooltipTriggerState",
      "oauth4webapi",
      "yup",
      "minisearch",
      "recharts",
      "@internationalized/date",
      "papaparse",
      "@tiptap/react",
      "@tiptap/starter-kit",
      "ibantools",
      "colord",
      "colord/plugins/a11y",
      "codemirror",
      "@codemirror/lang-json",
      "@codemirror/lint",
      "@codemirror/view",
      "@codemirror/language",
      "@lezer/highlight",
      "jsonata",
      "ajv/dist/2020.js",
      "re2js",
      "jsonc-parser",
      "http-link-header",
      "fast-xml-parser",
    ],
    exclude: ["@libsql/client", "@libsql/hrana-client", "drizzle-orm", "sharp"],
  },
  server: { hmr: process.env.ZAHLUNG_HMR_PORT ? { port: Number(process.env.ZAHLUNG_HMR_PORT) } : undefined },
}));
