import { and, eq, inArray, isNull, lt, notExists, sql } from "drizzle-orm";
import { forgetOld } from "../buttons/close";
import {
  apiAnswers,
  exchanges,
  keyChecks,
  keySets,
  quotes,
  rimFaults,
  sessions,
  signInFailures,
  webhooks,
  writeMarks,
} from "../database/schema";
import type { Runtime } from "../runtime";

const DAY = 86_400_000;

/** Forgets what is of no use any more, a lot at a time; what is evidence of payments is kept. */
export async function prune(rt: Runtime): Promise<void> {
  const { orm } = rt.db;
  const now = rt.now();
  const LOT = 5_000;
  await rt.db.write([
    orm.delete(apiAnswers).where(lt(apiAnswers.at, now - 7 * DAY)),
    orm.delete(writeMarks).where(lt(writeMarks.at, now - DAY)),
    orm.delete(sessions).where(lt(sessions.expiresAt, now)),
    orm.delete(signInFailures).where(lt(signInFailures.lastAt, now - DAY)),
    orm.delete(rimFaults).where(lt(rimFaults.until, now)),
    // Quotes that hold no more, and those whose asking nobody came back from.
    orm.delete(quotes).where(and(lt(quotes.until, now), lt(quotes.askedUntil, now - DAY))),
    ...forgetOld(rt),
  ]);
  await rt.db.write([
    // Exchanges that belong to no payment and no checkout: keys that were proven, lists that were read.
    orm.delete(exchanges).where(
      inArray(
        exchanges.id,
        orm
          .select({ id: exchanges.id })
          .from(exchanges)
          .where(
            and(lt(exchanges.at, now - 90 * DAY), isNull(exchanges.paymentId), isNull(exchanges.checkoutId)),
          )
          .limit(LOT),
      ),
    ),
    // Messages that were not believed.
    orm.delete(webhooks).where(
      inArray(
        webhooks.number,
        orm
          .select({ number: webhooks.number })
          .from(webhooks)
          .where(and(lt(webhooks.receivedAt, now - 30 * DAY), eq(webhooks.outcome, "refused")))
          .limit(LOT),
      ),
    ),
    // Checks of keys, but for the newest of each set and the newest that proved something.
    orm.delete(keyChecks).where(
      and(
        lt(keyChecks.at, now - 30 * DAY),
        notExists(
          orm
            .select({ id: keySets.id })
            .from(keySets)
            .where(
              sql`${keySets.id} = ${keyChecks.keySetId} and ${keyChecks.id} in (
                (select c.id from key_checks c where c.key_set_id = ${keySets.id} order by c.at desc, c.id desc limit 1),
                (select c.id from key_checks c where c.key_set_id = ${keySets.id} and c.unanswered is null order by c.at desc, c.id desc limit 1),
                (select c.id from key_checks c where c.key_set_id = ${keySets.id} and c.unanswered is null
                  and json_type(c.account) = 'object' order by json_array_length(c.proven) desc, c.at desc, c.id desc limit 1))`,
            ),
        ),
      ),
    ),
  ]);
}
