import LinkHeader from "http-link-header";
import { said } from "../said";
import { ProfileError } from "./expressions";
import type { OperationName, Profile } from "./profile";
import type { ProfilePaging } from "./profile-types";

/** The operations that answer with a page of a list, and what that is called in their answer. */
export const pagedLists = {
  listPayouts: "payouts",
  readPayout: "entries",
  listDisputes: "disputes",
} as const satisfies Partial<Record<OperationName, string>>;

/** What a request is told of where its page begins: as the page before said, and at first what the provider takes for its beginning. */
export const beginsAt = (paging: ProfilePaging | undefined, after: unknown): unknown =>
  paging?.by === "offset" && after === "" ? "0" : after;

/**
 * The address of a page that a provider's link leads to (RFC 8288), held against the provider's own: whoever could write
 * another one there would be sent the keys. Throws `reading-malformed`.
 */
export function pageAt(api: string, first: string, link: string): string {
  const refuse = () =>
    new ProfileError("reading-malformed", said("response.link-elsewhere", { link: link.slice(0, 200) }));
  if (!URL.canParse(link, first)) throw refuse();
  const [own, there] = [new URL(api), new URL(link, first)];
  const inside = there.pathname.startsWith(`${own.pathname.replace(/\/$/, "")}/`);
  if (there.origin !== own.origin || !inside || there.username || there.password) throw refuse();
  there.hash = "";
  return there.href;
}

/**
 * Where the page after an answered one begins, as its operation goes on: by a count of what came so far, by the answer's Link
 * header, or as the answer itself says. Undefined on the last.
 */
export function nextPage(
  { operations }: Profile,
  name: keyof typeof pagedLists,
  value: { next?: string },
  headers: readonly (readonly [string, string])[],
  after: string,
): string | undefined {
  const paging = operations[name]?.paging;
  if (!paging) return value.next;
  if (paging.by === "link") return nextLink(headers);
  const list = (value as Record<string, unknown>)[pagedLists[name]];
  const count = Array.isArray(list) ? list.length : 0;
  return count > 0 && count >= (paging.size ?? 1) ? String(Number(after || "0") + count) : undefined;
}

function nextLink(headers: readonly (readonly [string, string])[]): string | undefined {
  const links = headers.filter(([name]) => name.toLowerCase() === "link").map(([, value]) => value);
  if (links.length === 0) return undefined;
  try {
    return LinkHeader.parse(links.join(", ")).rel("next")[0]?.uri;
  } catch {
    throw new ProfileError("reading-malformed", said("response.link-unreadable"));
  }
}
