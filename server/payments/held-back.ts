import { eq } from "drizzle-orm";
import { captureDue, type HeldBecause } from "#core/offers/holding";
import { said, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { Statement } from "../database/open";
import type { Payment } from "../database/rows";
import { facts, offerRevisions } from "../database/schema";
import type { Runtime } from "../runtime";
import { act } from "./actions";
import { standingNow } from "./ask-provider";
import { paymentOf, recordFacts } from "./record";

/** The statement that writes down, with a new payment, that a person looks at it before it is captured. */
export const holdingBack = (rt: Runtime, paymentId: string, because: HeldBecause): Statement => {
  const now = rt.now();
  return rt.db.orm.insert(facts).values({
    ...{ paymentId, key: "zahlung:hold-back", source: "zahlung", at: now, recordedAt: now, person: null },
    statement: { object: "decision", what: "hold-back", because },
  });
};

export type Looked = { ok: true; says: Told } | { ok: false; says: Told };

const documentOf = async (rt: Runtime, { revisionId }: Payment) => {
  const [row] = await rt.db.orm
    .select({ document: offerRevisions.document })
    .from(offerRevisions)
    .where(eq(offerRevisions.id, revisionId));
  return row?.document ?? null;
};

/**
 * A person has looked at a payment that was held back: it may go on, or is let go. One whose offer captures at once is
 * captured now; what happens with others is as it would have been.
 */
export async function lookedAt(
  rt: Runtime,
  person: string,
  payment: Payment,
  decision: "go-on" | "refuse",
): Promise<Looked> {
  const { heldBack, held } = await standingNow(rt, payment.id);
  if (!heldBack || held === 0) return { ok: false, says: said("actions.not-held-back") };
  if (decision === "refuse") {
    const acted = await act(rt, person, payment, { kind: "void", amount: held, once: "held-back-refused" });
    return acted.ok
      ? {
          ok: true,
          says: said("actions.done-void", { amount: { amount: held, currency: payment.currency } }),
        }
      : acted;
  }
  const statement = { object: "decision", what: "let-go-on" } as const;
  const fact = { key: "admin:let-go-on", source: "admin" as const, at: rt.now(), person, statement };
  const recorded = await recordFacts(rt, payment.id, [fact]);
  if (recorded && recorded.added > 0)
    await changeSettings(rt, { person, action: "held back payment let go on", subject: payment.id }, []);
  const document = await documentOf(rt, payment);
  if (document?.capture !== "at-once") return { ok: true, says: said("actions.let-go-on") };
  const acted = await act(rt, person, payment, { kind: "capture", amount: held, once: "let-go-on" });
  return acted.ok
    ? {
        ok: true,
        says: said("actions.done-capture", { amount: { amount: held, currency: payment.currency } }),
      }
    : acted;
}

/** When a payment is captured by itself, milliseconds since the epoch; null: never, or somebody has to look at it first. */
export async function captureDueOf(rt: Runtime, payment: Payment): Promise<number | null> {
  if (payment.held === 0) return null;
  const [document, standing] = await Promise.all([documentOf(rt, payment), standingNow(rt, payment.id)]);
  return standing.heldBack ? null : captureDue(document?.captureAfterDays, payment);
}

/** Captures what is held once its days are over. Returns milliseconds until it is to be looked at again; null: never. */
export async function captureWhenDue(rt: Runtime, paymentId: string): Promise<number | null> {
  const payment = await paymentOf(rt, paymentId);
  const due = payment && (await captureDueOf(rt, payment));
  if (!payment || due === null) return null;
  if (due > rt.now()) return due - rt.now();
  const { held, captured } = payment;
  const once = `due-${captured}-${held}`;
  const acted = await act(rt, "zahlung", payment, { kind: "capture", amount: held, once, patience: 0 });
  // What is under way is seen to by its own work; what is refused, by whoever reads that it is held and ends.
  return acted.ok || !acted.open ? null : 60_000;
}
