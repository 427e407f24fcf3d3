// The yardstick of the intake: a bare Node server with the same verification and the same durable batched insert.
import { createClient } from "@libsql/client";
import { createServer } from "node:http";
import { verify } from "#core/webhooks/standard-webhooks";

const client = createClient({ url: process.env.BARE_DATABASE ?? "" });
await client.execute("PRAGMA journal_mode = WAL");
await client.execute("PRAGMA synchronous = FULL");
await client.execute(
  "create table hooks (number integer primary key, id text, received_at integer, headers text, body text, verdict text)",
);
const secret = process.env.SECRET ?? "";
const waiting: { row: (string | number)[]; done: () => void }[] = [];
let flushing = false;

async function flush() {
  while (waiting.length > 0) {
    const batch = waiting.splice(0, 500);
    const places = batch.map(() => "(?,?,?,?,?)").join(",");
    await client.execute({
      sql: `insert into hooks (id, received_at, headers, body, verdict) values ${places}`,
      args: batch.flatMap((one) => one.row),
    });
    for (const one of batch) one.done();
    await new Promise((resolve) => setImmediate(resolve));
  }
  flushing = false;
}

createServer((request, response) => {
  const parts: Buffer[] = [];
  request.on("data", (part: Buffer) => parts.push(part));
  request.on("end", () => {
    const body = Buffer.concat(parts);
    const now = Date.now();
    const { id } = verify([secret], request.headers as Record<string, string>, body, {
      now,
      tolerance: 300_000,
    });
    waiting.push({
      row: [id, now, "{}", body.toString("utf8"), "verified"],
      done: () => response.writeHead(204).end(),
    });
    if (flushing) return;
    flushing = true;
    setImmediate(() => void flush());
  });
}).listen(Number(process.env.PORT));
