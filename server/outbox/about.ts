import { type Told } from "#core/said";
import { and, eq } from "drizzle-orm";
import type { News } from "../database/rows";
import { jobs, outbox } from "../database/schema";
import type { Runtime } from "../runtime";

export interface NewsLine {
  id: string;
  state: string;
  tries: number;
  deliveredAt: number | null;
  lastOutcome: Told | null;
  /** When it is sent next; null when it was taken, or given up. */
  nextAt: number | null;
}

interface NewsBody {
  state?: string;
  stage?: string | null;
  payment?: { state?: string };
  order?: { stage?: string | null };
}

/** The news about a payment, oldest first, with what became of it. */
export async function newsAbout(rt: Runtime, paymentId: string): Promise<NewsLine[]> {
  const rows = await rt.db.orm
    .select({ news: outbox, nextAt: jobs.runAt })
    .from(outbox)
    .leftJoin(jobs, and(eq(jobs.kind, "deliver-news"), eq(jobs.key, outbox.id)))
    .where(eq(outbox.paymentId, paymentId));
  return rows
    .sort((a, b) => (a.news.id < b.news.id ? -1 : 1))
    .map(({ news: { id, tries, deliveredAt, lastOutcome, body }, nextAt }) => {
      const { data } = JSON.parse(body) as { data: NewsBody };
      // Before orders had news of their own, a payment's stood in its place.
      const about = "payment" in data && data.payment ? data : { payment: data, order: data };
      const state = [about.payment?.state, about.order?.stage].filter(Boolean).join(", ");
      return { id, tries, deliveredAt, lastOutcome, nextAt, state };
    });
}

/** A piece of news about one payment; null when it is not about that one. */
export async function newsOfPaymentBy(rt: Runtime, paymentId: string, id: string): Promise<News | null> {
  const [row] = await rt.db.orm.select().from(outbox).where(eq(outbox.id, id));
  return row?.paymentId === paymentId ? row : null;
}
