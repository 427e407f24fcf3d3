import compression from "compression";
import express from "express";
import { readdirSync } from "node:fs";
import { join, resolve } from "node:path";
import { createRequestHandler, RouterContextProvider, type ServerBuild } from "react-router";
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { firstOwnerLink } from "#server/people/invitations";
import { installProfiles, pageHosts } from "#server/profiles/profiles";
import { openRuntime, type Runtime } from "#server/runtime";
import { readSettings, type Settings, SettingsError } from "#server/settings";
import { requestOf, sendAnswer } from "./answer";
import { nonceContext, pageContext, pageHostsContext, runtimeContext } from "./context";
import { writeButton, writeButtonRefusal } from "./embed/button-words.server";
import { writeNotice } from "./embed/notice-words.server";
import { writeAsking } from "./receipts/asking-letter.server";
import { writeReceipt } from "./receipts/letter.server";
import { t } from "./words/pages/frame-answers";
import { tell } from "./words/spoken.server";
import { servedFrom } from "./first-paint";
import { forRoutesOfPath } from "./routes-of-path";

export interface OpenOptions {
  root: string;
  production: boolean;
  /** Development: how pages are built and files served. */
  pages?: { build: () => Promise<ServerBuild>; middleware: express.RequestHandler };
}

function settingsOrExit(production: boolean): Settings {
  try {
    return readSettings(process.env, { production });
  } catch (error) {
    if (!(error instanceof SettingsError)) throw error;
    console.error(`Zahlung cannot start:\n${error.problems.map((one) => `  ${one}`).join("\n")}`);
    process.exit(1);
  }
}

const LONGEST_FORM = 1_000_000;
/** Where files are handed in, and how long a form with them may be. */
const TAKES_FILES =
  /^\/(s\/[^/]+\/(operate\/pay_[^/]+?|offer\/look|offer\/(without\/)?off_[^/]+?)|pay\/[\w-]{43})(\.data)?$/;
const LONGEST_WITH_FILES = 6_000_000;

/** Why what was sent to a page is not taken, before any of it is read; null when it is. */
export function formRefused(
  { method, headers, path }: Pick<express.Request, "method" | "headers" | "path">,
  origin: string,
): { status: number; says: string } | null {
  if (method === "GET" || method === "HEAD") return null;
  if (method !== "POST") return { status: 405, says: t("pages-take-get-and-post") };
  if (headers.origin !== undefined && headers.origin !== origin)
    return { status: 403, says: t("from-another-site") };
  if (headers["content-length"] === undefined) return { status: 411, says: t("say-how-long") };
  const withFiles = TAKES_FILES.test(path) && /^multipart\/form-data\b/i.test(headers["content-type"] ?? "");
  const longest = withFiles ? LONGEST_WITH_FILES : LONGEST_FORM;
  if (Number(headers["content-length"]) > longest)
    return { status: 413, says: t("longest", { bytes: longest }) };
  if (withFiles) return null;
  if (!/^application\/x-www-form-urlencoded\b/i.test(headers["content-type"] ?? ""))
    return { status: 415, says: t("send-a-form") };
  return null;
}

/** Puts the pages on the front: built files, then the router with the runtime in its context. */
export async function servePages(
  rt: Runtime,
  app: express.Express,
  { root, pages }: OpenOptions,
): Promise<void> {
  app.use(compression());
  if (pages) app.use(pages.middleware);
  else {
    const client = join(root, "build/client");
    servedFrom(client);
    app.use("/assets", express.static(join(client, "assets"), { immutable: true, maxAge: "1y" }));
    // Only what is there is looked for on the disk, and not the address of every page.
    const files = new Set(readdirSync(client, { recursive: true }).map((name) => `/${String(name)}`));
    const fromDisk = express.static(client, { maxAge: "1h", index: false });
    app.use((request, response, next) =>
      files.has(request.path) ? fromDisk(request, response, next) : next(),
    );
  }
  app.use((request, response, next) => {
    const refused = formRefused(request, rt.settings.origin);
    if (!refused) return next();
    // What is still being sent is read and thrown away, so that the sender hears the answer.
    request.resume();
    response.status(refused.status).set("allow", "GET, HEAD, POST").type("text/plain").send(refused.says);
  });
  const handlerOf = (build: ServerBuild | (() => Promise<ServerBuild>)) =>
    createRequestHandler(build, pages ? "development" : "production");
  // Given as it is, a build's routes are taken apart once; given as a function, for every request.
  const handlerFor = pages
    ? always(handlerOf(pages.build))
    : forRoutesOfPath(await import("virtual:react-router/server-build"), handlerOf);
  app.use(async (request, response) => {
    const context = new RouterContextProvider();
    context.set(runtimeContext, rt);
    context.set(nonceContext, rt.ids.bytes(16).toString("base64"));
    context.set(pageHostsContext, await pageHosts(rt));
    // Set here and nowhere else, so that a sender cannot choose the address its wrong tries are counted for.
    request.headers["x-real-address"] = request.ip ?? "unknown";
    const answer = await handlerFor(request.path)(requestOf(request, response), context);
    await sendAnswer(response, answer, context.get(pageContext));
  });
}

const always =
  <One>(one: One) =>
  () =>
    one;

/** Opens Zahlung: settings, database, profiles, pages, worker; closes all of it on SIGTERM and SIGINT. */
export async function open(options: OpenOptions): Promise<void> {
  const settings = settingsOrExit(options.production);
  const rt = await openRuntime(settings, {
    root: options.root,
    speak: tell,
    writeReceipt,
    writeNotice,
    writeButton,
    writeButtonRefusal,
    writeAsking,
  });
  await installProfiles(rt, resolve(options.root, settings.profilesFolder));
  const { server, express: app } = openFront(rt);
  if (settings.roles.has("web")) await servePages(rt, app, options);
  const endWorker = settings.roles.has("worker") ? startWorker(rt) : async () => {};
  server.on("error", (error: NodeJS.ErrnoException) => {
    const taken = error.code === "EADDRINUSE";
    console.error(taken ? `Port ${settings.port} is taken. Choose another with PORT.` : error.message);
    process.exit(1);
  });
  server.listen(settings.port, () => {
    rt.log.info({ origin: settings.origin, port: settings.port }, "Zahlung is open");
    if (settings.roles.has("web")) void sayFirstLink(rt);
  });
  const end = () => {
    rt.log.info("Zahlung closes");
    // Requests under way are answered; connections that only wait are let go.
    server.close(() => void endWorker().then(() => (rt.db.close(), process.exit(0))));
    server.closeIdleConnections();
    setTimeout(() => server.closeAllConnections(), 8_000).unref();
    setTimeout(() => process.exit(1), 20_000).unref();
  };
  process.once("SIGTERM", end);
  process.once("SIGINT", end);
}

async function sayFirstLink(rt: Runtime): Promise<void> {
  const link = await firstOwnerLink(rt);
  if (link)
    console.log(`\nNobody can sign in yet. Make the first owner here, once, within a day:\n  ${link}\n`);
}
