import { connectionTroubles } from "../database/schema";
import { overcome } from "../gateway/breakers";
import { call, openLine } from "../gateway/gateway";
import type { Runtime } from "../runtime";

/**
 * Asks each account whose provider did not answer whether it does again: where nobody pays meanwhile, because its offers are
 * withheld, nothing else would find out.
 */
export async function followTroubles(rt: Runtime): Promise<void> {
  const troubled = await rt.db.orm.select().from(connectionTroubles);
  for (const { connectionId, mode } of troubled) {
    const line = await openLine(rt, { connectionId, mode });
    if (!line) {
      await overcome(rt, { connectionId, mode });
      continue;
    }
    const answer = await call(rt, line, "account", {});
    const answers =
      answer.kind === "answered" || (answer.kind === "refused" && answer.problem.kind !== "provider-fault");
    if (answers) await overcome(rt, { connectionId, mode });
  }
}
