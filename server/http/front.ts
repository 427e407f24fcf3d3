import express, { type Express } from "express";
import { createServer, type Server } from "node:http";
import { collectDefaultMetrics, Counter, Gauge, Registry } from "prom-client";
import { sql } from "drizzle-orm";
import { walletRoutes } from "../buttons/routes";
import { embedRoutes } from "../embed/routes";
import { pictureOf } from "../looks/pictures";
import { isPrivate } from "../wire/addresses";
import { Intake } from "../intake/intake";
import type { Runtime } from "../runtime";
import { shopApi } from "../shop-api/routes";

export interface Front {
  server: Server;
  express: Express;
}

/**
 * The door: the webhook intake on Node's own server, everything else on Express. Pages are put on `express` by
 * the caller.
 */
export function openFront(rt: Runtime): Front {
  const app = express();
  app.disable("x-powered-by");
  if (rt.settings.trustProxy) app.set("trust proxy", 1);
  const registry = new Registry();
  collectDefaultMetrics({ register: registry });
  const requests = new Counter({
    name: "zahlung_requests_total",
    help: "Requests by part and status.",
    labelNames: ["part", "status"],
    registers: [registry],
  });
  addGauges(rt, registry);
  app.use((request, response, next) => {
    response.set("x-content-type-options", "nosniff");
    response.on("finish", () =>
      requests.inc({ part: request.path.split("/")[1] || "home", status: response.statusCode }),
    );
    next();
  });
  app.get("/healthz", (_, response) => void response.json({ ok: true }));
  app.get("/readyz", async (_, response) => {
    const ready = await rt.db.answers();
    response.status(ready ? 200 : 503).json({ ready });
  });
  // Figures are for the operator's own network; a proxy in front shows itself by its header.
  app.get("/metrics", async (request, response) => {
    if (!isPrivate(request.socket.remoteAddress ?? "") || request.headers["x-forwarded-for"]) {
      return void response.status(403).send("Only from the operator's own network.");
    }
    response.type(registry.contentType).send(await registry.metrics());
  });
  app.use("/api/v1", shopApi(rt));
  app.use("/embed", embedRoutes(rt));
  app.use("/wallets", walletRoutes(rt));
  // A picture is named by what it shows, so that it never changes under its name.
  app.get("/pictures/:name", async (request, response) => {
    const bytes = await pictureOf(rt, request.params.name.replace(/\.png$/, ""));
    if (!bytes) return void response.status(404).type("text/plain").send("There is no such picture.");
    response.set({
      "cache-control": "public, max-age=31536000, immutable",
      "content-security-policy": "default-src 'none'; sandbox",
      "cross-origin-resource-policy": "cross-origin",
    });
    response.type("png").send(bytes);
  });
  const intake = new Intake(rt);
  const server = createServer((request, response) => {
    if (request.url?.startsWith("/hooks/")) {
      response.on("finish", () => requests.inc({ part: "hooks", status: response.statusCode }));
      void intake.serve(request, response);
    } else app(request, response);
  });
  // Longer than proxies and shops keep a connection that waits, or a call sent over it would meet its end.
  server.keepAliveTimeout = 75_000;
  return { server, express: app };
}

function addGauges(rt: Runtime, registry: Registry) {
  const waiting = (name: string, help: string, query: string) =>
    new Gauge({
      name,
      help,
      registers: [registry],
      async collect() {
        const [row] = await rt.db.orm.all<{ n: number }>(sql.raw(query));
        this.set(row?.n ?? 0);
      },
    });
  waiting(
    "zahlung_webhooks_waiting",
    "Verified webhooks not applied yet.",
    "select count(*) as n from webhooks where outcome = 'waiting'",
  );
  waiting(
    "zahlung_news_waiting",
    "News not taken by shops yet.",
    "select count(*) as n from jobs where kind = 'deliver-news'",
  );
  waiting(
    "zahlung_jobs_failing",
    "Background work that failed and is tried again, or waits for a person.",
    "select count(*) as n from jobs where tries > 0",
  );
  waiting(
    "zahlung_payments_open",
    "Payments whose outcome is open.",
    "select count(*) as n from jobs where kind = 'look-up'",
  );
}
