/** Anything Drizzle can turn into SQL with its arguments. */
export interface Statement {
  toSQL(): { sql: string; params: unknown[] };
}

/** A statement written by hand, where building it costs more than carrying it out. */
export const statement = (sql: string, params: unknown[] = []): Statement => ({
  toSQL: () => ({ sql, params }),
});
