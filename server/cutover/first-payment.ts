import { and, asc, desc, eq, gte, inArray } from "drizzle-orm";
import { cutovers, offers, payments } from "../database/schema";
import type { Payment } from "../payments/record";
import type { Runtime } from "../runtime";

/** The first live payment that moved money since the connection was last cut over; null until there is one. */
export async function firstLivePayment(
  rt: Runtime,
  storefrontId: string,
  connection: { id: string },
): Promise<Pick<Payment, "id" | "amount" | "currency" | "state"> | null> {
  const [last] = await rt.db.orm
    .select({ at: cutovers.at })
    .from(cutovers)
    .where(and(eq(cutovers.connectionId, connection.id), eq(cutovers.kind, "cut-over")))
    .orderBy(desc(cutovers.at))
    .limit(1);
  if (!last) return null;
  const { id, amount, currency, state } = payments;
  const found = await rt.db.orm
    .select({ id, amount, currency, state })
    .from(payments)
    .where(
      and(
        eq(payments.storefrontId, storefrontId),
        inArray(
          payments.offerId,
          rt.db.orm.select({ id: offers.id }).from(offers).where(eq(offers.connectionId, connection.id)),
        ),
        eq(payments.mode, "live"),
        gte(payments.createdAt, last.at),
      ),
    )
    .orderBy(asc(payments.createdAt))
    .limit(50);
  return (
    found.find((one) =>
      ["authorised", "captured", "partly-captured", "partly-refunded", "refunded"].includes(one.state),
    ) ?? null
  );
}
