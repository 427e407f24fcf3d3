/**
 * Text with headings, lists, bold, italic and links, as a tree of few kinds of nodes: what is not one of them cannot be said,
 * so that showing it is safe. The form is the JSON of ProseMirror documents.
 */
export interface RichText {
  type: "doc";
  content: Block[];
}
export type Block =
  | { type: "paragraph"; content?: Inline[] }
  | { type: "heading"; attrs: { level: 2 | 3 }; content?: Inline[] }
  | { type: "bulletList" | "orderedList"; content: ListItem[] };
export interface ListItem {
  type: "listItem";
  content: Block[];
}
export type Inline = { type: "text"; text: string; marks?: Mark[] } | { type: "hardBreak" };
export type Mark = { type: "bold" } | { type: "italic" } | { type: "link"; attrs: { href: string } };

const DEEPEST = 6;
const MOST_NODES = 600;
const MOST_LETTERS = 8_000;

/** Where a link may lead: web pages, mail and telephone (RFC 3986 schemes). */
const schemes: ReadonlySet<string> = new Set(["http:", "https:", "mailto:", "tel:"]);
export const mayLead = (href: string): boolean =>
  href.length <= 2_000 && URL.canParse(href) && schemes.has(new URL(href).protocol);

interface Left {
  nodes: number;
  letters: number;
}
type Node = Record<string, unknown>;
const isNode = (value: unknown): value is Node =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const childrenOf = (node: Node): Node[] =>
  Array.isArray(node.content) ? (node.content as unknown[]).filter(isNode) : [];

/** Reads a document from outside. What it may not hold is left out; null: it is none, or too long. */
export function readRichText(input: unknown): RichText | null {
  if (!isNode(input) || input.type !== "doc") return null;
  const left: Left = { nodes: MOST_NODES, letters: MOST_LETTERS };
  const content = childrenOf(input).flatMap((node) => blockOf(node, left, 1));
  return left.nodes < 0 || left.letters < 0 ? null : { type: "doc", content };
}

function blockOf(node: Node, left: Left, depth: number): Block[] {
  if ((left.nodes -= 1) < 0 || depth > DEEPEST) return [];
  const inline = () => {
    const content = childrenOf(node).flatMap((one) => inlineOf(one, left));
    return content.length > 0 ? { content } : {};
  };
  switch (node.type) {
    case "paragraph":
      return [{ type: "paragraph", ...inline() }];
    case "heading": {
      const level = isNode(node.attrs) && node.attrs.level === 3 ? 3 : 2;
      return [{ type: "heading", attrs: { level }, ...inline() }];
    }
    case "bulletList":
    case "orderedList": {
      const items = childrenOf(node)
        .filter((one) => one.type === "listItem")
        .map((one): ListItem => ({
          type: "listItem",
          content: childrenOf(one).flatMap((child) => blockOf(child, left, depth + 1)),
        }))
        .filter(({ content }) => content.length > 0);
      return items.length > 0 ? [{ type: node.type, content: items }] : [];
    }
    default:
      return [];
  }
}

function inlineOf(node: Node, left: Left): Inline[] {
  if ((left.nodes -= 1) < 0) return [];
  if (node.type === "hardBreak") return [{ type: "hardBreak" }];
  if (node.type !== "text" || typeof node.text !== "string" || node.text === "") return [];
  left.letters -= node.text.length;
  const marks = Array.isArray(node.marks) ? (node.marks as unknown[]).filter(isNode).flatMap(markOf) : [];
  return [{ type: "text", text: node.text, ...(marks.length > 0 && { marks }) }];
}

function markOf({ type, attrs }: Node): Mark[] {
  if (type === "bold" || type === "italic") return [{ type }];
  if (type !== "link" || !isNode(attrs) || typeof attrs.href !== "string" || !mayLead(attrs.href)) return [];
  return [{ type: "link", attrs: { href: attrs.href } }];
}

/** A document made of plain paragraphs. */
export const paragraphs = (...texts: string[]): RichText => ({
  type: "doc",
  content: texts.map((text) => ({ type: "paragraph", content: [{ type: "text", text }] })),
});

type List = Extract<Block, { content: ListItem[] }>;
export const isList = (one: Block): one is List => one.type === "bulletList" || one.type === "orderedList";

const PLACE = /\{([a-z-]{1,30})\}/g;

/** The same document with its places such as `{order}` filled; a place that has no value stays as it is. */
export function filledIn({ content }: RichText, values: Readonly<Record<string, string>>): RichText {
  const fill = (text: string) =>
    text.replace(PLACE, (place, name: string) =>
      Object.hasOwn(values, name) ? (values[name] ?? place) : place,
    );
  const inline = (list: Inline[] | undefined) =>
    list?.map((one): Inline => (one.type === "text" ? { ...one, text: fill(one.text) } : one));
  const block = (one: Block): Block => {
    if (isList(one))
      return { ...one, content: one.content.map((item) => ({ ...item, content: item.content.map(block) })) };
    const list = inline(one.content);
    return { ...one, ...(list && { content: list }) };
  };
  return { type: "doc", content: content.map(block) };
}

/** Names of places in a document that are not among the known. */
export function unknownPlaces(text: RichText, known: readonly string[]): string[] {
  const names = [...plainText(text).matchAll(PLACE)].map(([, name]) => name ?? "");
  return [...new Set(names)].filter((name) => !known.includes(name));
}

/** A document as plain text: a line for each paragraph, lists with dashes or numbers, addresses behind links. */
export function plainText({ content }: RichText): string {
  const inline = (list: Inline[] = []) =>
    list
      .map((one) => {
        if (one.type === "hardBreak") return "\n";
        const link = one.marks?.find((mark) => mark.type === "link");
        const href = link?.type === "link" ? link.attrs.href : null;
        return href !== null && href !== one.text ? `${one.text} (${href})` : one.text;
      })
      .join("");
  const block = (one: Block, indent: string): string[] => {
    if (!isList(one)) return [indent + inline(one.content)];
    return one.content.flatMap((item, i) => {
      const [first = "", ...rest] = item.content.flatMap((child) => block(child, ""));
      const head = one.type === "orderedList" ? `${i + 1}. ` : "- ";
      return [indent + head + first, ...rest.map((line) => `${indent}  ${line}`)];
    });
  };
  return content.flatMap((one) => block(one, "")).join("\n");
}

export const isEmptyText = (text: RichText): boolean => plainText(text).trim() === "";
