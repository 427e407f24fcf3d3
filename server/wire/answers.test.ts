import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { textUpTo } from "./answers";

describe("an answer's text", () => {
  it("is read whole up to the limit, and not at all beyond it", async () => {
    expect(await textUpTo(new Response("kite"), 4)).toBe("kite");
    expect(await textUpTo(new Response("kites"), 4)).toBeNull();
    expect(await textUpTo(new Response(null, { status: 204 }), 4)).toBe("");
    // The limit counts bytes, not letters.
    expect(await textUpTo(new Response("Möwe"), 4)).toBeNull();
  });

  it("is the same however it is cut into pieces, letters of several bytes included", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.string({ unit: "grapheme" }),
        fc.integer({ min: 1, max: 5 }),
        async (text, size) => {
          const bytes = new TextEncoder().encode(text);
          const pieces = new ReadableStream<Uint8Array>({
            start(controller) {
              for (let at = 0; at < bytes.length; at += size) controller.enqueue(bytes.slice(at, at + size));
              controller.close();
            },
          });
          expect(await textUpTo(new Response(pieces), 1_000)).toBe(text);
        },
      ),
    );
  });
});
