// Development: the same application through Vite, with reload. Settings have defaults; see .env.example.
import { dirname } from "node:path";
import { fileURLToPath } from "node:url";
import { createServer } from "vite";

process.env.NODE_ENV = "development";
process.env.ZAHLUNG_ALLOW_PRIVATE_ADDRESSES ??= "1";
const root = dirname(dirname(fileURLToPath(import.meta.url)));
const vite = await createServer({ root, server: { middlewareMode: true } });
const { open } = await vite.ssrLoadModule("./app/entry.node.ts");
await open({
  root,
  production: false,
  pages: {
    build: () => vite.ssrLoadModule("virtual:react-router/server-build"),
    middleware: vite.middlewares,
  },
});
