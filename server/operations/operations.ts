import { and, eq, inArray, sql } from "drizzle-orm";
import { isUnderWay, type Moved, type OperationKind, operationStates } from "#core/operations/operation";
import type { ByLines } from "#core/orders/by-lines";
import { guard, guardNone } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow, prepared, updateRow, rowsBy } from "../database/prepared";
import type { Operation } from "../database/rows";
import { paymentOperations } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";

export interface NewOperation {
  kind: OperationKind;
  /** Minor units of the payment's currency. */
  amount: number;
  /** Tells one press from another: the same press moves money once. */
  once: string;
  person: string;
  reason?: string;
  final?: boolean;
  byLines?: ByLines;
  before: Moved;
  /** What every asking carries; minted from payment, kind and press by default. */
  idempotencyKey?: string;
}

/** States in which an operation's end is not known. */
export const underWay = operationStates.filter(isUnderWay);

/** Milliseconds after which the worker takes up an operation whose process is gone. */
const abandonedAfter = (rt: Runtime) => rt.settings.providerTimeout * 3 + 5_000;

/**
 * A new operation of a payment, and the statements that write it before the provider hears of it. They fail, by a guard,
 * when another of the same payment is under way, or the same press was written before.
 */
export function beginning(
  rt: Runtime,
  payment: { id: string; connectionId?: string | null },
  { idempotencyKey, ...rest }: NewOperation,
): { operation: Operation; statements: Statement[] } {
  const operation: Operation = {
    id: rt.ids.next("op"),
    paymentId: payment.id,
    reason: null,
    final: false,
    byLines: null,
    ...rest,
    idempotencyKey: (idempotencyKey ?? `${payment.id}-${rest.kind}-${rest.once}`).slice(0, 100),
    state: "asked",
    asks: 1,
    asked: null,
    looks: 0,
    looked: null,
    retryAfter: null,
    code: null,
    says: null,
    at: rt.now(),
    endedAt: null,
  };
  return {
    operation,
    statements: [
      insertRow(rt.db, paymentOperations, operation),
      takeUp(rt, operation, payment.connectionId ?? payment.id, abandonedAfter(rt)),
    ],
  };
}

/** The statement that has the worker take an operation up after some milliseconds. */
export const takeUp = (rt: Runtime, { id }: Operation, lane: string, after: number): Statement =>
  askFor(rt, { kind: "operation", key: id, lane, at: rt.now() + after });

/** The statement that holds a write to the case that nothing else of a payment is under way. */
export const nothingUnderWay = (paymentId: string): Statement =>
  guardNone(
    paymentOperations,
    and(eq(paymentOperations.paymentId, paymentId), inArray(paymentOperations.state, underWay)),
  );

/** The statements that change an operation, unless somebody else has gone on with it meanwhile. */
export const changed = (rt: Runtime, seen: Operation, change: Partial<Operation>): Statement[] => [
  guard(
    paymentOperations,
    and(
      eq(paymentOperations.id, seen.id),
      eq(paymentOperations.state, seen.state),
      eq(paymentOperations.asks, seen.asks),
      eq(paymentOperations.looks, seen.looks),
    ),
  ),
  updateRow(rt.db, paymentOperations, seen.id, change),
];

const byId = rowsBy(paymentOperations, ["id"]);
const ofPayment = rowsBy(paymentOperations, ["paymentId"], paymentOperations.at, paymentOperations.id);
const pressed = rowsBy(paymentOperations, ["paymentId", "once"]);
const underWayAt = prepared((orm) =>
  orm
    .select()
    .from(paymentOperations)
    .where(
      and(
        eq(paymentOperations.paymentId, sql.placeholder("paymentId")),
        inArray(paymentOperations.state, underWay),
      ),
    )
    .prepare(),
);

export async function operationOf(rt: Runtime, id: string): Promise<Operation | null> {
  const [row] = await byId(rt.db).all({ id });
  return row ?? null;
}

/** The operations of a payment, the oldest first. */
export const operationsOf = (rt: Runtime, paymentId: string): Promise<Operation[]> =>
  ofPayment(rt.db).all({ paymentId });

/** The operation of a payment whose end is not known yet. */
export async function underWayOf(rt: Runtime, paymentId: string): Promise<Operation | null> {
  const [row] = await underWayAt(rt.db).all({ paymentId });
  return row ?? null;
}

/** What one press began. */
export async function pressedBefore(rt: Runtime, paymentId: string, once: string): Promise<Operation | null> {
  const [row] = await pressed(rt.db).all({ paymentId, once });
  return row ?? null;
}
