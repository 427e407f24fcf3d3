import { eq } from "drizzle-orm";
import { outbox } from "../database/schema";
import type { Runtime } from "../runtime";

export interface NewsLine {
  id: string;
  state: string;
  tries: number;
  deliveredAt: number | null;
  lastOutcome: string | null;
}

/** The news about a payment, oldest first, with what became of it. */
export async function newsAbout(rt: Runtime, paymentId: string): Promise<NewsLine[]> {
  const rows = await rt.db.orm
    .select()
    .from(outbox)
    .where(eq(outbox.paymentId, paymentId))
    .orderBy(outbox.id);
  return rows.map(({ id, tries, deliveredAt, lastOutcome, body }) => {
    const { data } = JSON.parse(body) as { data: { state?: string; stage?: string | null } };
    return {
      id,
      tries,
      deliveredAt,
      lastOutcome,
      state: [data.state, data.stage].filter(Boolean).join(", "),
    };
  });
}
