import { plainText } from "../rich-text";
import type { Told } from "../said";
import type { OfferDocument } from "./offer";
import { rulesSay } from "./rules";
import type { Zone } from "./zones";

/** One difference between two documents: a dotted path, and both values. Null: nothing stands there. */
export interface Change<Value = string> {
  path: string;
  from: Value | null;
  to: Value | null;
}

/** A difference between two documents of an offer, as people read it. */
export type OfferChange = Change<Told>;

/** Lists that say "all" where nothing is in them. Of others, an empty one says nothing. */
const ALL_WHERE_EMPTY = ["countries", "currencies", "groups"];

/** Leaves of a document by dotted path; lists of plain values count as one leaf. */
function leaves(value: unknown, path: string, into: Map<string, string>): Map<string, string> {
  if (Array.isArray(value) && value.every((one) => typeof one !== "object")) {
    if (value.length > 0) into.set(path, value.join(", "));
    else if (ALL_WHERE_EMPTY.includes(path)) into.set(path, "all");
  } else if (value !== null && typeof value === "object") {
    for (const [key, inner] of Object.entries(value)) leaves(inner, path ? `${path}.${key}` : key, into);
  } else if (value !== null && value !== undefined && value !== "") {
    into.set(path, String(value));
  }
  return into;
}

/** The exact changes between two documents, sorted by path. `from` null: new; `to` null: gone. */
export function changesBetween(before: unknown, after: unknown): Change[] {
  const from = leaves(before ?? {}, "", new Map());
  const to = leaves(after ?? {}, "", new Map());
  return [...new Set([...from.keys(), ...to.keys()])]
    .filter((path) => from.get(path) !== to.get(path))
    .sort()
    .map((path) => ({ path, from: from.get(path) ?? null, to: to.get(path) ?? null }));
}

/**
 * What of an offer is compared leaf by leaf: plans by their ids, texts with headings and lists as plain text. How a provider
 * moves the money says nothing of an offer that has none.
 */
function readable(document: OfferDocument) {
  const { rules: _, sign, repeats, offline, capture, authentication, ...plain } = document;
  return {
    ...plain,
    ...(!offline && { capture, authentication }),
    ...(sign && { sign: "picture" in sign ? { picture: sign.picture.id } : sign }),
    ...(repeats && {
      repeats: {
        ...repeats,
        plans: Object.fromEntries(
          repeats.plans.map(({ id, rhythm, ...plan }) => [
            id,
            { ...plan, rhythm: `${rhythm.count} ${rhythm.unit}` },
          ]),
        ),
      },
    }),
    ...(offline && { offline: { ...offline, instructions: textsOf(offline.instructions) } }),
  };
}

const textsOf = (instructions: NonNullable<OfferDocument["offline"]>["instructions"]) =>
  Object.fromEntries(Object.entries(instructions).map(([language, text]) => [language, plainText(text)]));

/**
 * What differs between two documents of an offer: rules as their sentence, instructions as plain text. Where only headings,
 * lists or weight of a text differ, `from` and `to` are the same words.
 */
export function offerChanges(
  before: OfferDocument | undefined,
  after: OfferDocument | undefined,
  zones: readonly Zone[],
): OfferChange[] {
  const changes: OfferChange[] = changesBetween(before && readable(before), after && readable(after));
  const found = new Set(changes.map(({ path }) => path));
  const [were, are] = [before?.offline?.instructions ?? {}, after?.offline?.instructions ?? {}];
  const texts = textsOf(are);
  for (const language of Object.keys(are)) {
    const path = `offline.instructions.${language}`;
    const words = texts[language] ?? "";
    if (
      were[language] &&
      !found.has(path) &&
      JSON.stringify(were[language]) !== JSON.stringify(are[language])
    )
      changes.push({ path, from: words, to: words });
  }
  const sentence = (rules: OfferDocument["rules"]) => (rules ? rulesSay(rules, zones) : null);
  if (JSON.stringify(before?.rules) !== JSON.stringify(after?.rules))
    changes.push({ path: "rules", from: sentence(before?.rules), to: sentence(after?.rules) });
  return changes;
}

/** Parts of an offer that hang together, so that none of their leaves can be taken over alone. */
const WHOLE_PARTS = ["sign", "repeats", "button", "charge", "holdBack", "rules"];
const WHOLE_INNER = ["limits", "offline"];

/** The part of an offer that is taken over as one when a difference is: a dotted path, the difference's own or above it. */
export function partOf(path: string): string {
  const [head = "", inner] = path.split(".");
  if (WHOLE_PARTS.includes(head)) return head;
  if (inner === undefined || !WHOLE_INNER.includes(head)) return path;
  return path.startsWith("offline.instructions.") ? path : `${head}.${inner}`;
}
