/** What a table of the profile says of a code that a provider sent; a code such as `constructor` is in none. */
export const own = <T>(table: Readonly<Record<string, T>> | undefined, code: string): T | undefined =>
  table && Object.hasOwn(table, code) ? table[code] : undefined;
