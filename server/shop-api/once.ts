import { and, eq } from "drizzle-orm";
import type { Request } from "express";
import { createHash } from "node:crypto";
import { isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow } from "../database/prepared";
import { apiAnswers } from "../database/schema";
import type { Runtime } from "../runtime";
import type { ShopCaller } from "../storefronts/storefronts";
import { problem, ProblemError } from "./problem";

export interface Answer {
  status: number;
  body: unknown;
}

/** What a request that changes something leads to: the statements that do it, and the answer. */
export interface Deed {
  answer: Answer;
  statements: readonly Statement[];
}

const LONGEST_KEY = 200;

/** The key that tells one request from another. Throws a `ProblemError`: `idempotency-key-missing`. */
export function idempotencyKeyOf(request: Pick<Request, "get">): string {
  const key = request.get("idempotency-key");
  if (key && key.length <= LONGEST_KEY) return key;
  throw new ProblemError(
    problem(
      400,
      "idempotency-key-missing",
      "Idempotency-Key missing",
      `What changes something needs an Idempotency-Key header of up to ${LONGEST_KEY} characters.`,
    ),
  );
}

/**
 * Does what a request asks for once, by its Idempotency-Key: the deed and its answer are written in one transaction, so
 * that the same request is answered as it was the first time, however often and from however many processes it comes.
 * Throws a `ProblemError`: `idempotency-key-missing`, `idempotency-key-reused` (the key came with another request).
 */
export async function once(
  rt: Runtime,
  caller: ShopCaller,
  request: Pick<Request, "get" | "path" | "body">,
  deed: () => Deed,
): Promise<Answer> {
  const key = idempotencyKeyOf(request);
  const requestHash = createHash("sha256")
    .update(`${request.path} ${JSON.stringify(request.body)}`)
    .digest("hex");
  const { answer, statements } = deed();
  const { status, body } = answer;
  try {
    await rt.db.write([
      insertRow(rt.db, apiAnswers, {
        apiKeyId: caller.keyId,
        key,
        requestHash,
        status,
        body: JSON.stringify(body),
        at: rt.now(),
      }),
      ...statements,
    ]);
    return answer;
  } catch (error) {
    if (!isConflict(error)) throw error;
    // Hardly ever asked: the same request came before, or was quicker.
    const before = await answered(rt, caller, key, requestHash);
    if (before) return before;
    throw error;
  }
}

async function answered(
  rt: Runtime,
  { keyId }: ShopCaller,
  key: string,
  requestHash: string,
): Promise<Answer | null> {
  const [before] = await rt.db.orm
    .select()
    .from(apiAnswers)
    .where(and(eq(apiAnswers.apiKeyId, keyId), eq(apiAnswers.key, key)));
  if (!before) return null;
  if (before.requestHash !== requestHash) {
    throw new ProblemError(
      problem(
        409,
        "idempotency-key-reused",
        "Idempotency-Key reused",
        "This Idempotency-Key came with another request.",
      ),
    );
  }
  return { status: before.status, body: JSON.parse(before.body) as unknown };
}
