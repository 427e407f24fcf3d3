import { Agent, type IncomingHttpHeaders, request as overHttp } from "node:http";
import { Agent as SecureAgent, request as overHttps } from "node:https";

/** Longest that a libSQL server may take for one request, milliseconds. */
const LONGEST_REQUEST = 8_000;

const plain = { send: overHttp, agent: new Agent({ keepAlive: true }) };
const secure = { send: overHttps, agent: new SecureAgent({ keepAlive: true }) };

/**
 * Sends what a database's client asks a libSQL server, on a connection that stays open, and waits no longer than it may take:
 * the client sets no limit of its own, and a server that hangs would hang every request with it. The `fetch` that the client
 * would use takes three times as long, for each statement. Rejects when nothing came, not all of it, or not in time.
 */
export async function askServer(request: Request, within = LONGEST_REQUEST): Promise<Response> {
  const url = new URL(request.url);
  const { send, agent } = url.protocol === "https:" ? secure : plain;
  const body = request.body ? Buffer.from(await request.arrayBuffer()) : undefined;
  const headers = {
    ...Object.fromEntries(request.headers),
    ...(body && { "content-length": String(body.length) }),
  };
  return new Promise((resolve, reject) => {
    const outgoing = send(url, { method: request.method, headers, agent }, (incoming) => {
      const parts: Buffer[] = [];
      incoming.on("data", (part: Buffer) => parts.push(part));
      incoming.once("error", fail);
      incoming.once("end", () => {
        clearTimeout(limit);
        const { statusCode: status = 500 } = incoming;
        const empty = status === 204 || status === 304;
        resolve(
          new Response(empty ? null : Buffer.concat(parts), { status, headers: texts(incoming.headers) }),
        );
      });
    });
    const limit = setTimeout(() => outgoing.destroy(new Error(`time-out after ${within} ms`)), within);
    function fail(error: Error) {
      clearTimeout(limit);
      reject(error);
    }
    outgoing.once("error", fail);
    outgoing.end(body);
  });
}

const texts = (headers: IncomingHttpHeaders): Record<string, string> =>
  Object.fromEntries(
    Object.entries(headers).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])),
  );
