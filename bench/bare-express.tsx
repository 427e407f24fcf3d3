// The yardsticks of what a shop and its people ask for: bare Express routes with one row read and one durable insert, and
// bare React streaming the markup of a page from a constant.
import { createClient } from "@libsql/client";
import express from "express";
import parse from "html-react-parser";
import { readFileSync } from "node:fs";
import type { ReactElement } from "react";
import { renderToPipeableStream } from "react-dom/server";

const client = createClient({ url: process.env.BARE_DATABASE ?? "", concurrency: 1 } as never);
await client.execute("PRAGMA journal_mode = WAL");
await client.execute("PRAGMA synchronous = FULL");
await client.execute("create table if not exists answers (id integer primary key, body text)");
await client.execute("create table if not exists orders (id integer primary key, at integer, body text)");
await client.execute({
  sql: "insert or replace into answers (id, body) values (1, ?)",
  args: [process.env.ANSWER ?? "{}"],
});

/** Pages by name: the elements of their markup, made once. */
const pages = new Map(
  Object.entries(JSON.parse(process.env.PAGES ?? "{}") as Record<string, string>).map(([name, file]) => [
    name,
    parse(readFileSync(file, "utf8").replace(/^<!doctype html>/i, "")) as ReactElement,
  ]),
);

const app = express();
app.use(express.json());
app.post("/row", async (_, response) => {
  const { rows } = await client.execute("select body from answers where id = 1");
  response.json(JSON.parse(String(rows[0]?.body)));
});
app.post("/insert", async (request, response) => {
  await client.batch(
    [
      {
        sql: "insert into orders (at, body) values (?, ?)",
        args: [Date.now(), JSON.stringify(request.body)],
      },
    ],
    "write",
  );
  response.status(201).json({ ok: true });
});
app.get("/page/:name", (request, response) => {
  const stream = renderToPipeableStream(pages.get(request.params.name), {
    onShellReady: () => {
      response.type("html");
      stream.pipe(response);
    },
  });
});
app.get("/healthz", (_, response) => void response.json({ ok: true }));
app.listen(Number(process.env.PORT));
