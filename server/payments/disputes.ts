import { said } from "#core/said";
import type { Payment } from "../database/rows";
import type { Runtime } from "../runtime";
import { askProvider, type Moved, standingNow } from "./ask-provider";
import type { EvidenceFile } from "./evidence";
import { LONGEST_NOTE } from "./notes";

/** What a shop does about a dispute: hands in what speaks for it, or gives in. */
export type DisputeMove = { as: "answer"; text: string; files: readonly EvidenceFile[] } | { as: "accept" };

const operations = { answer: "answerDispute", accept: "acceptDispute" } as const;
const becomes = { answer: "answered", accept: "lost" } as const;

/** Answers or accepts the dispute about a payment that is open. */
export async function moveDispute(
  rt: Runtime,
  person: string,
  payment: Payment,
  move: DisputeMove,
): Promise<Moved> {
  const { dispute } = await standingNow(rt, payment.id);
  if (dispute?.state !== "open") return { ok: false, says: said("actions.no-dispute-open") };
  const text = move.as === "answer" ? move.text.trim() : "";
  if (move.as === "answer" && (text === "" || text.length > LONGEST_NOTE))
    return { ok: false, says: said("actions.say-what-speaks") };
  const files = move.as === "answer" ? move.files : [];
  return askProvider(rt, person, payment, {
    operation: operations[move.as],
    input: {
      ...{ dispute: dispute.id, text },
      files: files.map(({ name, type, content }) => ({ name, type, content })),
    },
    secrets: files.map(({ content }) => content),
    idempotencyKey: `${dispute.id}-${dispute.stage}-${move.as}`,
    action: `dispute ${becomes[move.as]}`,
    detail: {
      ...{ dispute: dispute.id, stage: dispute.stage, ...(text && { text }) },
      ...(files.length > 0 && { files: files.map(({ name, digest }) => `${name} ${digest}`) }),
    },
    holds: (now) => now.dispute?.state === becomes[move.as],
    done: said(`actions.dispute-${move.as}ed`),
  });
}
