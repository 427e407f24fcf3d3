import { once } from "node:events";
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import type { AddressInfo, Socket } from "node:net";
import { text } from "node:stream/consumers";
import { afterAll, beforeAll, expect, it } from "vitest";
import { askServer } from "./over-http";
import { isPassing } from "./writes";

let server: Server;
let origin = "";
const connections = new Set<Socket>();
/** How the server answers. */
let answer: (request: IncomingMessage, response: ServerResponse) => unknown;

beforeAll(async () => {
  server = createServer((request, response) => void answer(request, response));
  server.on("connection", (socket) => connections.add(socket));
  await once(server.listen(0, "127.0.0.1"), "listening");
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

const ask = (body?: string, within?: number) =>
  askServer(
    new Request(`${origin}/v2/pipeline`, {
      method: body === undefined ? "GET" : "POST",
      headers: { "content-type": "application/json", authorization: "Bearer kept" },
      ...(body !== undefined && { body }),
    }),
    within,
  );
const refused = (asked: Promise<Response>): Promise<Error> =>
  asked.then(
    () => expect.unreachable(),
    (error: Error) => error,
  );

it("carries what is asked and what is answered, whatever the status, over one connection", async () => {
  connections.clear();
  const heard: string[] = [];
  answer = async (request, response) => {
    heard.push(`${request.method} ${request.url} ${request.headers.authorization} ${await text(request)}`);
    response.writeHead(heard.length === 2 ? 503 : 200, {
      "content-type": "application/json",
      "x-odd": ["a", "b"],
    });
    response.end('{"möwe":1}');
  };
  const first = await ask('{"drachen":"ä"}');
  expect([first.ok, first.status, first.headers.get("content-type")]).toEqual([
    true,
    200,
    "application/json",
  ]);
  expect(await first.json()).toEqual({ möwe: 1 });
  const second = await ask("{}");
  expect([second.ok, second.status, await second.text()]).toEqual([false, 503, '{"möwe":1}']);
  expect((await ask()).ok).toBe(true);
  expect(heard).toEqual([
    'POST /v2/pipeline Bearer kept {"drachen":"ä"}',
    "POST /v2/pipeline Bearer kept {}",
    "GET /v2/pipeline Bearer kept ",
  ]);
  expect(connections.size).toBe(1);
});

it("takes an answer without a body, and a long one whole", async () => {
  answer = (_, response) => response.writeHead(204).end();
  expect((await ask("{}")).status).toBe(204);
  const long = "ö".repeat(2_000_000);
  answer = (_, response) => response.end(long);
  expect((await (await ask("{}")).text()) === long).toBe(true);
});

it("goes at once for as many as ask at once", async () => {
  let waiting = 0;
  answer = (_, response) => {
    waiting += 1;
    const all = setInterval(() => {
      if (waiting < 20) return;
      clearInterval(all);
      response.end("{}");
    }, 5);
  };
  const answers = await Promise.all(Array.from({ length: 20 }, () => ask("{}")));
  expect(answers.every(({ ok }) => ok)).toBe(true);
});

it("gives up on a server that hangs, before it answers and in the middle, as what goes by itself", async () => {
  answer = () => undefined;
  const silent = await refused(ask("{}", 50));
  answer = (_, response) => response.writeHead(200, { "content-length": "100" }).write("half");
  const half = await refused(ask("{}", 50));
  for (const error of [silent, half]) {
    expect(error.message).toMatch(/time-out|aborted/);
    expect(isPassing(error)).toBe(true);
  }
});

it("says that an answer was broken off, and that nobody is there, as what goes by itself", async () => {
  answer = (request, response) => {
    response.writeHead(200, { "content-length": "100" }).write("half");
    setTimeout(() => request.socket.destroy(), 20);
  };
  expect(isPassing(await refused(ask("{}")))).toBe(true);
  answer = (request) => request.socket.destroy();
  expect(isPassing(await refused(ask("{}")))).toBe(true);
  const nobody = askServer(new Request("http://127.0.0.1:1/v2", { method: "POST", body: "{}" }));
  expect(isPassing(await refused(nobody))).toBe(true);
});
