import { desc, sql } from "drizzle-orm";
import type { Job } from "../database/rows";
import { jobs } from "../database/schema";
import type { Runtime } from "../runtime";

const PAGE = 100;

/** Background work that has failed and is tried again or waits for a person, the newest first. */
export const failingJobs = (rt: Runtime): Promise<Job[]> =>
  rt.db.orm
    .select()
    .from(jobs)
    .where(sql`${jobs.tries} > 0`)
    .orderBy(desc(jobs.createdAt), desc(jobs.id))
    .limit(PAGE);

/** How much is waiting or being done. */
export async function jobCounts(rt: Runtime): Promise<{ waiting: number; running: number }> {
  const { rows } = await rt.db.client.execute(
    "select sum(lease is null and run_at is not null) as waiting, sum(lease is not null) as running from jobs",
  );
  return { waiting: Number(rows[0]?.waiting ?? 0), running: Number(rows[0]?.running ?? 0) };
}
