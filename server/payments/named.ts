import { and, eq, inArray, or } from "drizzle-orm";
import type { Payment } from "../database/rows";
import { payments } from "../database/schema";
import type { Account } from "../gateway/accounts";
import type { Runtime } from "../runtime";

/** How a line of a provider's list names a payment. */
export interface Named {
  ref?: string;
  reference?: string;
}
export type NamedPayment = Pick<Payment, "id" | "currency" | "dispute" | "disputeDue">;

const AT_A_TIME = 100;

/** Finds the payments of an account that lines of a list name, by our reference before the provider's. */
export async function paymentsNamed(
  rt: Runtime,
  { connectionId, mode }: Account,
  entries: readonly Named[],
): Promise<(entry: Named) => NamedPayment | undefined> {
  const [byReference, byRef] = [new Map<string, NamedPayment>(), new Map<string, NamedPayment>()];
  for (let at = 0; at < entries.length; at += AT_A_TIME) {
    const some = entries.slice(at, at + AT_A_TIME);
    const named = (pick: (entry: Named) => string | undefined) => some.flatMap((one) => pick(one) ?? []);
    const found = await rt.db.orm
      .select({
        ...{ id: payments.id, reference: payments.reference, providerRef: payments.providerRef },
        ...{ currency: payments.currency, dispute: payments.dispute, disputeDue: payments.disputeDue },
      })
      .from(payments)
      .where(
        and(
          eq(payments.connectionId, connectionId),
          eq(payments.mode, mode),
          or(
            inArray(
              payments.reference,
              named((one) => one.reference),
            ),
            inArray(
              payments.providerRef,
              named((one) => one.ref),
            ),
          ),
        ),
      );
    for (const one of found) {
      byReference.set(one.reference, one);
      if (one.providerRef !== null) byRef.set(one.providerRef, one);
    }
  }
  return ({ reference = "", ref = "" }) => byReference.get(reference) ?? byRef.get(ref);
}
