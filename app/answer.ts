import { createReadableStreamFromReadable, writeReadableStreamToWritable } from "@react-router/node";
import type { Request as Asked, Response as Answering } from "express";

/** What a browser asks, as the router takes it; given up as soon as the browser has gone. */
export function requestOf(asked: Asked, answering: Answering): Request {
  const host = /^([\w.-]+|\[[\da-f:]+\])(:\d+)?$/i.test(asked.host) ? asked.host : "localhost";
  const gone = new AbortController();
  answering.once("close", () => {
    if (!answering.writableFinished) gone.abort();
  });
  const headers = new Headers();
  for (const [name, value] of Object.entries(asked.headers))
    if (Array.isArray(value)) for (const one of value) headers.append(name, one);
    else if (value) headers.set(name, value);
  const sends = asked.method !== "GET" && asked.method !== "HEAD";
  return new Request(`${asked.protocol}://${host}${asked.originalUrl}`, {
    ...{ method: asked.method, headers, signal: gone.signal },
    ...(sends && { body: createReadableStreamFromReadable(asked), duplex: "half" as const }),
  });
}

/**
 * Sends what the router answers. `page` is the whole text of a page, where it is one: it goes out in one piece, which
 * saves a tenth of what a page takes.
 */
export async function sendAnswer(
  answering: Answering,
  { status, statusText, headers, body }: Response,
  page: string | null,
): Promise<void> {
  if (answering.destroyed || answering.writableEnded) return void (await body?.cancel());
  answering.statusMessage = statusText;
  answering.status(status);
  for (const [name, value] of headers) answering.append(name, value);
  if (page !== null && !body) return void answering.end(page);
  if (!body) return void answering.end();
  try {
    await writeReadableStreamToWritable(body, answering);
  } catch (error) {
    // Whoever asked has gone.
    if (!answering.destroyed && !answering.writableEnded) throw error;
  }
}
