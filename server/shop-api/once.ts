import { and, eq, lt } from "drizzle-orm";
import type { Request } from "express";
import { createHash } from "node:crypto";
import { apiAnswers } from "../database/schema";
import type { Runtime } from "../runtime";
import type { ShopCaller } from "../storefronts/storefronts";
import { problem, ProblemError } from "./problem";

export interface Answer {
  status: number;
  body: unknown;
}

/** Milliseconds that an answer is kept for a request that is sent again. */
const KEPT_FOR = 7 * 24 * 3_600_000;

/** Milliseconds after which work that was begun and never answered counts as abandoned. */
const LONGEST_WORK = 60_000;

/**
 * Answers a POST that was made before, by its Idempotency-Key, as it was answered then, and otherwise does the
 * work. Throws a `ProblemError`: `idempotency-key-missing`, `idempotency-key-reused` (the key came with another
 * request), `in-progress` (somebody else is at the same work now).
 */
export async function once(
  rt: Runtime,
  caller: ShopCaller,
  request: Request,
  work: () => Promise<Answer>,
): Promise<Answer> {
  const key = request.get("idempotency-key");
  if (!key || key.length > 200) {
    throw new ProblemError(
      problem(
        400,
        "idempotency-key-missing",
        "Idempotency-Key missing",
        "Every POST needs an Idempotency-Key header of up to 200 characters.",
      ),
    );
  }
  const requestHash = createHash("sha256")
    .update(`${request.path} ${JSON.stringify(request.body)}`)
    .digest("hex");
  const mine = and(eq(apiAnswers.apiKeyId, caller.keyId), eq(apiAnswers.key, key));
  const answered = async () => {
    const [before] = await rt.db.orm.select().from(apiAnswers).where(mine);
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
    if (before.status === 0) {
      // Whoever reserved it and has not answered for so long has died with it; the work is done anew.
      if (before.at < rt.now() - LONGEST_WORK) return null;
      throw new ProblemError(
        problem(409, "in-progress", "In progress", "The same request is being worked on."),
      );
    }
    return { status: before.status, body: JSON.parse(before.body) as unknown };
  };
  const before = await answered();
  if (before) return before;
  // Reserved before the work, so that two requests at once do it once.
  const reserved = await rt.db.write([
    rt.db.orm
      .insert(apiAnswers)
      .values({ apiKeyId: caller.keyId, key, requestHash, status: 0, body: "", at: rt.now() })
      .onConflictDoUpdate({
        target: [apiAnswers.apiKeyId, apiAnswers.key],
        set: { at: rt.now() },
        setWhere: and(eq(apiAnswers.status, 0), lt(apiAnswers.at, rt.now() - LONGEST_WORK)),
      }),
  ]);
  if (reserved[0] !== 1) {
    const other = await answered();
    if (other) return other;
  }
  try {
    const result = await work();
    await rt.db.write([
      rt.db.orm
        .update(apiAnswers)
        .set({ status: result.status, body: JSON.stringify(result.body) })
        .where(mine),
    ]);
    return result;
  } catch (error) {
    await rt.db.write([rt.db.orm.delete(apiAnswers).where(mine)]);
    throw error;
  }
}

/** Forgets answers that are older than any shop would send the same request again. */
export async function forgetAnswers(rt: Runtime): Promise<void> {
  await rt.db.write([rt.db.orm.delete(apiAnswers).where(lt(apiAnswers.at, rt.now() - KEPT_FOR))]);
}
