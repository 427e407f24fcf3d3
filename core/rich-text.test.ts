import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  filledIn,
  isEmptyText,
  paragraphs,
  plainText,
  readRichText,
  type RichText,
  unknownPlaces,
} from "./rich-text";

const text = (words: string, ...marks: unknown[]) => ({
  type: "text",
  text: words,
  ...(marks.length > 0 && { marks }),
});
const doc = (...content: unknown[]) => ({ type: "doc", content });
const paragraph = (...content: unknown[]) => ({ type: "paragraph", content });

describe("a text from outside", () => {
  it("keeps headings, lists, bold, italic and links, and nothing else", () => {
    const good = doc(
      { type: "heading", attrs: { level: 2 }, content: [text("How to pay")] },
      paragraph(
        text("By "),
        text("transfer", { type: "bold" }),
        { type: "hardBreak" },
        text("soon", { type: "italic" }),
      ),
      { type: "bulletList", content: [{ type: "listItem", content: [paragraph(text("one"))] }] },
      paragraph(text("here", { type: "link", attrs: { href: "https://luvwinkel.example/pay" } })),
    );
    expect(readRichText(good)).toEqual(good);
  });

  it.each([
    ["a script", doc({ type: "script", content: [text("alert(1)")] })],
    ["a picture", doc({ type: "image", attrs: { src: "x", onerror: "alert(1)" } })],
    ["html", doc({ type: "html", text: "<b onclick=x>" })],
  ])("loses %s", (_, given) => {
    expect(readRichText(given)).toEqual({ type: "doc", content: [] });
  });

  it.each(["javascript:alert(1)", "data:text/html,x", "vbscript:x", "/relative", "java\nscript:alert(1)"])(
    "loses the link to %j and keeps its words",
    (href) => {
      const read = readRichText(
        doc(paragraph(text("here", { type: "link", attrs: { href, onclick: "x" } }))),
      );
      expect(read).toEqual(doc(paragraph(text("here"))));
    },
  );

  it("is refused when it is none, or too long", () => {
    for (const none of [null, "words", [], {}, { type: "paragraph" }]) expect(readRichText(none)).toBeNull();
    expect(readRichText(doc(paragraph(text("x".repeat(8_001)))))).toBeNull();
    expect(readRichText(doc(...Array.from({ length: 601 }, () => paragraph())))).toBeNull();
  });

  it("whatever it is, is read to a text that reads as itself, or to none", () => {
    fc.assert(
      fc.property(fc.anything(), fc.array(fc.anything(), { maxLength: 5 }), (any, list) => {
        for (const given of [any, doc(...list), doc(paragraph(...list))]) {
          const read = readRichText(given);
          if (read) expect(readRichText(read)).toEqual(read);
        }
      }),
    );
  });
});

describe("places in a text", () => {
  const says = paragraphs("Transfer {total} by {due}, for {order}.", "{nobody} {toString}");

  it("are filled where a value is there, and named where none can be", () => {
    expect(plainText(filledIn(says, { total: "43,90 €", order: "LW-1 {due}" }))).toBe(
      "Transfer 43,90 € by {due}, for LW-1 {due}.\n{nobody} {toString}",
    );
    expect(unknownPlaces(says, ["total", "due", "order"])).toEqual(["nobody"]);
  });

  it("are filled in lists as well", () => {
    const list: RichText = {
      type: "doc",
      content: [
        {
          type: "orderedList",
          content: [
            {
              type: "listItem",
              content: [{ type: "paragraph", content: [{ type: "text", text: "{total}" }] }],
            },
          ],
        },
      ],
    };
    expect(plainText(filledIn(list, { total: "5" }))).toBe("1. 5");
  });
});

it("as plain text shows lists, breaks and where links lead", () => {
  const link = { type: "link", attrs: { href: "https://luvwinkel.example" } };
  const read = readRichText(
    doc(
      { type: "heading", attrs: { level: 3 }, content: [text("Then")] },
      {
        type: "bulletList",
        content: [
          { type: "listItem", content: [paragraph(text("one"), { type: "hardBreak" }, text("more"))] },
          { type: "listItem", content: [paragraph(text("two", link))] },
        ],
      },
    ),
  ) as RichText;
  expect(plainText(read)).toBe("Then\n- one\nmore\n- two (https://luvwinkel.example)");
  expect(isEmptyText(paragraphs(" ", ""))).toBe(true);
  expect(isEmptyText(read)).toBe(false);
});
