import { type Said, said, type Told } from "#core/said";
import { eq, or } from "drizzle-orm";
import { type Message, scoreOf, type ScoreRow } from "#core/score";
import type { Fact, Payment } from "../database/rows";
import { exchanges, type RecordedMessage, webhooks } from "../database/schema";
import type { Runtime } from "../runtime";
import { recordedOf } from "./facts";

export interface MessageDetail {
  request: RecordedMessage | null;
  response: RecordedMessage | null;
  outcome: Told | null;
}

export interface Story {
  score: ScoreRow[];
  details: Record<string, MessageDetail>;
  facts: Fact[];
}

const webhookAnswers: Record<string, Said> = {
  applied: said("story.applied"),
  repeated: said("story.repeated"),
  waiting: said("story.waiting"),
  held: said("story.held"),
  lost: said("story.lost"),
};

/** A payment as its recorded messages tell it: those of its own, of its checkout, and the webhooks about it. */
export async function storyOf(rt: Runtime, payment: Payment): Promise<Story> {
  const [sent, heard, known] = await Promise.all([
    rt.db.orm
      .select()
      .from(exchanges)
      .where(or(eq(exchanges.paymentId, payment.id), eq(exchanges.checkoutId, payment.checkoutId))),
    rt.db.orm.select().from(webhooks).where(eq(webhooks.paymentId, payment.id)),
    recordedOf(rt, payment.id),
  ]);
  // What concerns another try of the same checkout has its own score.
  const own = sent.filter((one) => one.paymentId === null || one.paymentId === payment.id);
  const details: Story["details"] = {};
  const messages: Message[] = own.map((one) => {
    details[one.id] = { request: one.request, response: one.response, outcome: one.outcome };
    const { id, at, duration, from, to, label, ok } = one;
    return {
      id,
      at,
      duration,
      from,
      to,
      label,
      ok,
      answer: one.response?.status ? String(one.response.status) : one.outcome,
    };
  });
  for (const one of heard) {
    const id = `webhook-${one.number}`;
    details[id] = {
      request: { headers: one.headers, body: one.body },
      response: null,
      outcome: webhookAnswers[one.outcome] ?? one.outcome,
    };
    messages.push({
      id,
      at: one.receivedAt,
      duration: null,
      from: "provider",
      to: "zahlung",
      label: said("story.webhook", { event: one.event ?? "" }),
      answer: webhookAnswers[one.outcome] ?? one.outcome,
      ok: one.verdict === "verified",
    });
  }
  return { score: scoreOf(messages), details, facts: known };
}
