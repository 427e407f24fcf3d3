/** The particulars of an entry in one line. */
export const detailWords = (detail: Record<string, unknown>): string =>
  Object.entries(detail)
    .map(
      ([key, value]) =>
        `${key}: ${typeof value === "object" && value !== null ? JSON.stringify(value) : String(value)}`,
    )
    .join(", ");
