import type { AddressInfo } from "node:net";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openTestRuntime, type TestRuntime } from "../test-runtime";
import { type Front, openFront } from "./front";

let world: TestRuntime;
let front: Front;
let origin = "";
beforeEach(async () => {
  world = await openTestRuntime();
  front = openFront(world.rt);
  front.express.get("/page", (_, response) => void response.send("a page"));
  await new Promise<void>((resolve) => front.server.listen(0, "127.0.0.1", resolve));
  origin = `http://127.0.0.1:${(front.server.address() as AddressInfo).port}`;
});
afterEach(async () => {
  front.server.closeAllConnections();
  await new Promise((resolve) => front.server.close(resolve));
  world.close();
});
const get = (path: string, init?: RequestInit) => fetch(origin + path, init);

describe("the door", () => {
  it("says whether it stands, and whether its database answers", async () => {
    expect(await (await get("/healthz")).json()).toEqual({ ok: true });
    expect(await (await get("/readyz")).json()).toEqual({ ready: true });
    world.rt.db.close();
    const down = await get("/readyz");
    expect([down.status, await down.json()]).toEqual([503, { ready: false }]);
    expect((await get("/healthz")).status).toBe(200);
  });

  it("leads to pages, and names nothing of what it is made of", async () => {
    const page = await get("/page");
    expect(await page.text()).toBe("a page");
    expect(page.headers.get("x-powered-by")).toBeNull();
    expect(page.headers.get("x-content-type-options")).toBe("nosniff");
  });

  it("keeps a connection that waits for longer than those who call do", async () => {
    expect((await get("/healthz")).headers.get("keep-alive")).toBe("timeout=75");
  });

  it("takes webhooks ahead of everything else: unknown addresses, methods and odd paths have an answer", async () => {
    const answers = [
      await get("/hooks/nobody", { method: "POST", body: "{}" }),
      await get("/hooks/nobody"),
      await get("/hooks/", { method: "POST", body: "x" }),
      await get("/hooks/%00%ff?x=1", { method: "POST" }),
      await get(`/hooks/${"a".repeat(3000)}`, { method: "POST" }),
    ];
    expect(answers.map((one) => one.status)).toEqual([404, 405, 404, 404, 404]);
    expect(answers[1]?.headers.get("allow")).toBe("POST");
  });

  it("answers an unknown address of the shop API with a problem document", async () => {
    const answer = await get("/api/v1/nowhere");
    expect(answer.status).toBe(404);
    expect(answer.headers.get("content-type")).toContain("application/problem+json");
  });
});

describe("figures for the operator", () => {
  /** The value of one series in Prometheus' text format. */
  const figure = (text: string, series: string) =>
    Number(
      text
        .split("\n")
        .find((line) => line.startsWith(`${series} `))
        ?.split(" ")[1],
    );

  it("count requests by part and status, and what waits", async () => {
    await get("/page");
    await get("/page");
    await get("/hooks/nobody", { method: "POST" });
    const answer = await get("/metrics");
    expect(answer.headers.get("content-type")).toContain("text/plain; version=0.0.4");
    const text = await answer.text();
    expect(figure(text, 'zahlung_requests_total{part="page",status="200"}')).toBe(2);
    expect(figure(text, 'zahlung_requests_total{part="hooks",status="404"}')).toBe(1);
    for (const waiting of ["zahlung_webhooks_waiting", "zahlung_news_waiting", "zahlung_payments_open"])
      expect(figure(text, waiting)).toBe(0);
    for (const line of text.split("\n").filter((one) => one && !one.startsWith("#")))
      expect(line).toMatch(/^[a-z_:][\w:]*(\{[^}]*\})? \S+$/i);
  });

  it("are not for whoever comes through a proxy", async () => {
    expect((await get("/metrics", { headers: { "x-forwarded-for": "203.0.113.7" } })).status).toBe(403);
  });
});
