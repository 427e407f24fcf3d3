import type { ReadableStream } from "node:stream/web";

/** An answer's text; null, and the rest is not read, when it is longer than `most` bytes. */
export async function textUpTo(response: Response, most: number): Promise<string | null> {
  const parts: Uint8Array[] = [];
  let length = 0;
  for await (const bytes of (response.body as ReadableStream<Uint8Array> | null) ?? []) {
    length += bytes.length;
    if (length > most) return null;
    parts.push(bytes);
  }
  return Buffer.concat(parts).toString("utf8");
}
