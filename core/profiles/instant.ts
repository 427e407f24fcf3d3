/** When something was or will be: an ISO 8601 text, or seconds or milliseconds since the epoch. NaN: none of them. */
export function instantOf(value: unknown): number {
  if (typeof value === "number" || (typeof value === "string" && /^\d{9,14}$/.test(value))) {
    const number = Number(value);
    return number < 100_000_000_000 ? number * 1000 : number;
  }
  return Date.parse(String(value));
}
