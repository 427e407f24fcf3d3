/** The types of the shop API client and where they stand. */
export function shopClient(): Promise<{ file: string; text: string }>;
