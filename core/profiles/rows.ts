import { XMLParser } from "fast-xml-parser";
import Papa from "papaparse";
import { said } from "../said";
import { LONGEST_FILE } from "./answers";
import { ProfileError } from "./expressions";
import { own } from "./own";
import type { ProfileOperation } from "./profile-types";

/** What an operation answers with a file, if it does. */
export type FileKind = NonNullable<ProfileOperation["answers"]>;

/** By its media type: RFC 4180, section 3, and RFC 7303. */
const mediaTypes: Record<FileKind, RegExp> = {
  csv: /^text\/csv\b/i,
  xml: /^(application|text)\/([\w.-]+\+)?xml\b/i,
};

/** Whether an answer says that it is such a file. */
export const isFileOf = (
  kind: FileKind,
  { headers = [] }: { headers?: readonly (readonly [string, string])[] },
): boolean =>
  headers.some(([name, value]) => name.toLowerCase() === "content-type" && mediaTypes[kind].test(value));

/**
 * The rows of a file. Of CSV: each line by its columns' names. Of XML: each element that `path` leads to, with its elements and
 * attributes by their local names and its own text as `text`; one that has nothing but text is that text.
 * Throws `reading-malformed` where it cannot be read or is too long.
 */
export function rowsOf(kind: FileKind, path: string | undefined, text: string): unknown[] {
  const rows = kind === "csv" ? csvRows(text) : xmlRows(path ?? "/", text);
  if (rows.length > LONGEST_FILE)
    throw new ProfileError("reading-malformed", said("response.file-too-long", { most: LONGEST_FILE }));
  return rows;
}

const csvRows = (text: string): unknown[] =>
  Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ""), { header: true, skipEmptyLines: "greedy" })
    .data;

const parser = new XMLParser({
  ...{ ignoreAttributes: false, attributeNamePrefix: "", textNodeName: "text" },
  ...{ parseTagValue: false, parseAttributeValue: false, htmlEntities: true },
  ...{ removeNSPrefix: true, ignoreDeclaration: true, ignorePiTags: true },
});

function xmlRows(path: string, text: string): unknown[] {
  // A document type can name other files and write one thing a million times: no statement needs one.
  if (/<!DOCTYPE/i.test(text))
    throw new ProfileError("reading-malformed", said("response.has-document-type"));
  let level: unknown[];
  try {
    level = [parser.parse(text, true) as unknown];
  } catch (error) {
    const why = (error as Error).message.slice(0, 200);
    throw new ProfileError("reading-malformed", said("response.not-xml", { why }));
  }
  for (const name of path.split("/").slice(1))
    level = level.flatMap((one) => {
      const found =
        typeof one === "object" && one !== null ? own(one as Record<string, unknown>, name) : undefined;
      return found === undefined ? [] : Array.isArray(found) ? (found as unknown[]) : [found];
    });
  return level;
}
