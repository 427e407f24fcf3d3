import { and, eq, isNull } from "drizzle-orm";
import { said, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { Payment } from "../database/rows";
import { findings } from "../database/schema";
import type { Runtime } from "../runtime";
import { recordFacts } from "./record";

/** A person takes money for its order that came after the checkout was over. */
export async function takeLate(
  rt: Runtime,
  person: string,
  payment: Payment,
): Promise<{ ok: true } | { ok: false; says: Told }> {
  if (payment.held + payment.captured <= payment.refunded)
    return { ok: false, says: said("actions.nothing-to-take") };
  const statement = { object: "decision", what: "take-late" } as const;
  const fact = { key: "admin:take-late", source: "admin" as const, at: rt.now(), person, statement };
  const settled = rt.db.orm
    .update(findings)
    .set({ state: "resolved", resolvedAt: rt.now(), person, reason: "taken for the order" })
    .where(and(eq(findings.paymentId, payment.id), eq(findings.kind, "late"), isNull(findings.person)));
  const recorded = await recordFacts(rt, payment.id, [fact], { with: [settled] });
  if (recorded && recorded.added > 0)
    await changeSettings(rt, { person, action: "late payment taken", subject: payment.id }, []);
  return { ok: true };
}
