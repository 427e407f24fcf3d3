import type { Report } from "#core/payments/facts";
import { fold } from "#core/payments/fold";
import { said, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import { guardFailed } from "../database/guard";
import type { Payment } from "../database/rows";
import { ending } from "../findings/record";
import { recordedOf } from "../payments/facts";
import { recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";
import { changed, operationOf } from "./operations";

/**
 * What a person found at the provider about an operation that nobody else could find out about. It becomes a fact by that
 * person: the totals as they must be now.
 */
export async function settle(
  rt: Runtime,
  person: string,
  payment: Payment,
  operationId: string,
  found: "done" | "nothing",
): Promise<{ ok: true } | { ok: false; says: Told }> {
  const operation = await operationOf(rt, operationId);
  if (operation?.paymentId !== payment.id || operation.state !== "question")
    return { ok: false, says: said("operations.no-question") };
  const known = await recordedOf(rt, payment.id);
  const { captured, released, refunded } = fold(known);
  const sequences = known.flatMap(({ statement }) =>
    "sequence" in statement ? [statement.sequence ?? 0] : [],
  );
  const { kind, amount } = operation;
  const total: Partial<Report> =
    kind === "capture"
      ? { captured: captured + amount }
      : kind === "refund"
        ? { refunded: refunded + amount }
        : kind === "confirm"
          ? { authorised: amount }
          : { released: released + amount, ...(kind === "void" && { status: "voided" as const }) };
  const statement: Report = {
    object: "report",
    ...(sequences.length > 0 && { sequence: Math.max(...sequences) }),
    ...total,
  };
  try {
    await changeSettings(
      rt,
      { person, action: `payment settled`, subject: payment.id, detail: { operation: kind, amount, found } },
      [
        ...changed(rt, operation, { state: found, says: null, endedAt: rt.now() }),
        ending(rt, payment.id, "question"),
      ],
    );
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, says: said("operations.no-question") };
  }
  if (found === "done")
    await recordFacts(rt, payment.id, [
      { key: `admin:${operation.id}`, source: "admin", at: rt.now(), statement, person },
    ]);
  return { ok: true };
}
