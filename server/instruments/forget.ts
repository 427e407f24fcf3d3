import { and, eq } from "drizzle-orm";
import { ToldError } from "#core/said";
import { instruments } from "../database/schema";
import { call, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { atProvider, ERASED } from "./instruments";

/** Has a provider forget what a shopper has had forgotten here. Throws where it did not answer: it is asked again. */
export async function forgetThere(rt: Runtime, id: string): Promise<void> {
  const [row] = await rt.db.orm.select().from(instruments).where(eq(instruments.id, id));
  if (row?.state !== "forgotten") return;
  const kept = atProvider(rt, row);
  const line = kept && (await openLine(rt, { connectionId: row.connectionId, mode: row.mode }));
  // Where the keys are gone, or nothing can be said about it, nobody can be asked.
  if (kept && line && line.profile.operations.forget) {
    const answer = await call(rt, line, "forget", { kept }, { secrets: [kept] });
    // What is not there has been forgotten.
    const gone =
      answer.kind === "answered" || (answer.kind === "refused" && answer.problem.kind === "not-found");
    if (!gone) throw new ToldError(saysWhat(line.profile.name, answer));
  }
  // It may have been kept again meanwhile.
  const still = and(eq(instruments.id, id), eq(instruments.state, "forgotten"));
  await rt.db.write([
    row.shopper === ERASED
      ? rt.db.orm.delete(instruments).where(still)
      : rt.db.orm.update(instruments).set({ sealed: null }).where(still),
  ]);
}
