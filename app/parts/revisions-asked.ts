/** The number of a revision, as an address or a form gives it; null for what is none. */
export const numberIn = (text: unknown): number | null =>
  typeof text === "string" && /^\d{1,6}$/.test(text) ? Number(text) : null;

/** Which revisions a page is asked for: those before a number, all at first, and two to be held against each other. */
export function revisionsAsked(request: Request) {
  const { searchParams } = new URL(request.url);
  const [one, other] = [numberIn(searchParams.get("one")), numberIn(searchParams.get("other"))];
  return {
    before: numberIn(searchParams.get("after")),
    first: !searchParams.has("after"),
    pair: one !== null && other !== null ? ([one, other] as const) : null,
  };
}
