import { type Said, said } from "../said";
import { findNodeAtLocation, type Node, type ParseError, parseTree, printParseErrorCode } from "jsonc-parser";
import { type DocumentProblem, LONGEST_DOCUMENT } from "./limits";
import type { Profile } from "./profile";
import { readProfile } from "./read-profile";

export type DocumentReading = { ok: true; profile: Profile } | { ok: false; problems: DocumentProblem[] };

const DEEPEST = 60;

/** How deep the text nests at most, found without parsing it: brackets outside of strings. */
function nesting(text: string): number {
  let depth = 0;
  let most = 0;
  let inside = false;
  for (let i = 0; i < text.length; i++) {
    const letter = text[i];
    if (inside) {
      if (letter === "\\") i++;
      else if (letter === '"') inside = false;
    } else if (letter === '"') inside = true;
    else if (letter === "{" || letter === "[") most = Math.max(most, ++depth);
    else if (letter === "}" || letter === "]") depth--;
  }
  return most;
}

const lineAt = (text: string, offset: number) => text.slice(0, offset).split("\n").length;

/** Reads a profile as somebody wrote it (RFC 8259), with each complaint at its line. Never throws. */
export function readDocument(text: string): DocumentReading {
  const whole = (says: Said): DocumentReading => ({ ok: false, problems: [{ line: 1, at: "", says }] });
  if (text.trim() === "") return whole(said("document.document-empty"));
  if (text.length > LONGEST_DOCUMENT)
    return whole(
      said("document.document-letters-most-read", { length: text.length, most: LONGEST_DOCUMENT }),
    );
  if (nesting(text) > DEEPEST) return whole(said("document.document-nested-deeper-than", { most: DEEPEST }));
  const errors: ParseError[] = [];
  const tree = parseTree(text, errors, { disallowComments: true });
  if (!tree || errors.length > 0)
    return {
      ok: false,
      problems: errors.slice(0, 5).map(({ offset, error }) => ({
        line: lineAt(text, offset),
        at: "",
        says: said("document.not-json", { error: printParseErrorCode(error) }),
      })),
    };
  const doubled = doubledKey(tree);
  if (doubled)
    return {
      ok: false,
      problems: [
        {
          line: lineAt(text, doubled.offset),
          at: String(doubled.value),
          says: said("document.stands-twice-same-object"),
        },
      ],
    };
  const reading = readProfile(JSON.parse(text) as unknown);
  if (reading.ok) return reading;
  return {
    ok: false,
    problems: reading.problems.map(({ path, says }) => ({
      line: lineAt(text, nodeAt(tree, path).offset),
      at: path.join("."),
      says,
    })),
  };
}

/** The node a path leads to, or the nearest one above it. */
function nodeAt(tree: Node, path: (string | number)[]): Node {
  for (let length = path.length; length > 0; length--) {
    const found = findNodeAtLocation(tree, path.slice(0, length));
    if (found) return found.parent?.type === "property" ? found.parent : found;
  }
  return tree;
}

/** The second of two keys of the same name in one object: JSON leaves open which of them counts. */
function doubledKey(node: Node): Node | null {
  const names = new Set<unknown>();
  for (const child of node.children ?? []) {
    const [key] = node.type === "object" ? (child.children ?? []) : [];
    if (key) {
      if (names.has(key.value)) return key;
      names.add(key.value);
    }
    const found = doubledKey(child);
    if (found) return found;
  }
  return null;
}
