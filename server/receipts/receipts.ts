import { and, asc, eq, sql } from "drizzle-orm";
import type { ReceiptKind } from "#core/receipts/receipts";
import { said, type Told, ToldError } from "#core/said";
import { asksBy, nextAsk } from "#core/subscriptions/course";
import { remindersOf } from "#core/ways/offline/terms";
import { checkoutOf } from "../checkouts/checkouts";
import type { Payment } from "../database/rows";
import { offerRevisions, receipts } from "../database/schema";
import { askFor } from "../jobs/jobs";
import { lookFor } from "../looks/looks";
import { sendMail } from "../notices/mail";
import { paymentOf } from "../payments/record";
import type { Runtime } from "../runtime";
import { writing } from "./follow";
import { receiptView } from "./receipt-view";

/** A letter to a shopper, as the back office sees it. */
export interface ReceiptLine {
  id: string;
  kind: ReceiptKind;
  refunded: number;
  email: string;
  sent: number;
  sentAt: number | null;
  person: string | null;
  trouble: Told | null;
}

export const receiptsOf = (rt: Runtime, paymentId: string): Promise<ReceiptLine[]> =>
  rt.db.orm
    .select({
      ...{ id: receipts.id, kind: receipts.kind, refunded: receipts.refunded, email: receipts.email },
      ...{ sent: receipts.sent, sentAt: receipts.sentAt },
      ...{ person: receipts.person, trouble: receipts.trouble },
    })
    .from(receipts)
    .where(eq(receipts.paymentId, paymentId))
    .orderBy(asc(receipts.createdAt), asc(receipts.id))
    .execute();

/** Letters that only say something while money is waited for. */
const waitsFor: ReadonlySet<ReceiptKind> = new Set<ReceiptKind>(["placed", "reminder"]);

/** Sends a letter that waits to be sent. Throws where it cannot be, so that it is tried again. */
export async function sendReceipt(rt: Runtime, id: string): Promise<void> {
  const [receipt] = await rt.db.orm.select().from(receipts).where(eq(receipts.id, id));
  if (!receipt || receipt.sentAt !== null) return;
  const payment = await paymentOf(rt, receipt.paymentId);
  const checkout = payment && (await checkoutOf(rt, payment.checkoutId));
  const view = checkout && (await receiptView(rt, checkout, payment, receipt.kind));
  // Since it was asked for, the payment came to nothing, or was paid: nobody is told to pay any more.
  if (!view || (waitsFor.has(receipt.kind) && !view.placed)) {
    const trouble = said("receipts.overtaken");
    return rt.db.write([rt.db.orm.update(receipts).set({ trouble }).where(eq(receipts.id, id))]);
  }
  const { storefront, look } = view;
  try {
    const { subject, text, html } = await rt.writeReceipt(view);
    await sendMail(rt, {
      ...{ to: receipt.email, subject, text, html, name: storefront },
      ...(look.support?.email && { replyTo: look.support.email }),
      // One that comes twice, because nobody heard that it was taken, is known by its id.
      messageId: `${receipt.id}.${receipt.sent + 1}@${new URL(rt.settings.origin).hostname}`,
    });
  } catch (error) {
    const trouble = said("receipts.not-taken", { because: error instanceof Error ? error.message : "" });
    await rt.db.write([rt.db.orm.update(receipts).set({ trouble }).where(eq(receipts.id, id))]);
    throw new ToldError(trouble);
  }
  await rt.db.write([
    rt.db.orm
      .update(receipts)
      .set({ sent: sql`${receipts.sent} + 1`, sentAt: rt.now(), trouble: null })
      .where(eq(receipts.id, id)),
  ]);
}

/** Sends a letter once more, because a person wants it. */
export async function sendReceiptAgain(
  rt: Runtime,
  person: string,
  paymentId: string,
  id: string,
): Promise<void> {
  await rt.db.write([
    rt.db.orm
      .update(receipts)
      .set({ sentAt: null, person })
      .where(and(eq(receipts.id, id), eq(receipts.paymentId, paymentId))),
    askFor(rt, { kind: "send-receipt", key: id, lane: "mail" }),
  ]);
  rt.nudge();
}

export type Written = { ok: true } | { ok: false; says: Told };

/**
 * Reminds a shopper of what is still to be paid, by the offer's plan: where receipts are sent here, while it is waited for.
 * Returns when they are reminded next; null where they are not.
 */
export async function remind(rt: Runtime, paymentId: string): Promise<number | null> {
  const payment = await paymentOf(rt, paymentId);
  if (payment?.state !== "pending" || payment.dueAt === null) return null;
  const [row] = await rt.db.orm
    .select({ document: offerRevisions.document })
    .from(offerRevisions)
    .where(eq(offerRevisions.id, payment.revisionId));
  const asks = row?.document.offline ? remindersOf(row.document.offline) : [];
  const look = await lookFor(rt, payment.storefrontId, payment.mode);
  // Those that went by meanwhile are one.
  if (look.receipts) await writeReminder(rt, payment, asksBy({ asks }, payment.dueAt, rt.now()));
  return nextAsk({ asks }, payment.dueAt, rt.now());
}

/** Writes a reminder for a payment that is waited for; each number once. */
export async function writeReminder(rt: Runtime, payment: Payment, nth = 1): Promise<Written> {
  const checkout = await checkoutOf(rt, payment.checkoutId);
  const email = checkout?.order.email ?? "";
  if (email === "") return { ok: false, says: said("receipts.no-address") };
  const view = checkout && (await receiptView(rt, checkout, payment));
  if (!view?.placed) return { ok: false, says: said("receipts.nothing-to-say") };
  await rt.db.write(writing(rt, payment, email, { kind: "reminder", refunded: 0, nth }));
  rt.nudge();
  return { ok: true };
}

/** Writes the letter that fits how a payment stands, for one whose shopper has none yet. */
export async function writeReceiptNow(rt: Runtime, payment: Payment): Promise<Written> {
  const checkout = await checkoutOf(rt, payment.checkoutId);
  const email = checkout?.order.email ?? "";
  if (email === "") return { ok: false, says: said("receipts.no-address") };
  const view = checkout && (await receiptView(rt, checkout, payment));
  if (!view) return { ok: false, says: said("receipts.nothing-to-say") };
  const refunded = view.kind === "refunded" ? payment.refunded : 0;
  await rt.db.write(writing(rt, payment, email, { kind: view.kind, refunded }));
  rt.nudge();
  return { ok: true };
}
