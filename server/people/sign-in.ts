import { type Said, said } from "#core/said";
import { and, eq, gt, inArray, lt, sql } from "drizzle-orm";
import { prepared } from "../database/prepared";
import { people, sessions, signInFailures } from "../database/schema";
import type { Runtime } from "../runtime";
import { passwordFits } from "./passwords";
import { hashOf, type Person, tidy } from "./people";

const HOUR = 3_600_000;
const IDLE = 12 * HOUR;
const LONGEST = 7 * 24 * HOUR;
const FREE_TRIES = 5;

export type SignIn =
  { ok: true; token: string; expiresAt: number } | { ok: false; says: Said; retryAfter?: number };

/** How long (milliseconds) a key with so many failures must wait after the last one: doubling, 15 minutes at most. */
export const waitAfter = (failures: number) =>
  failures < FREE_TRIES ? 0 : Math.min(15 * 60_000, 5_000 * 2 ** (failures - FREE_TRIES));

/** Signs a person in. Wrong tries slow down further ones, for the e-mail address and the network address alike. */
export async function signIn(rt: Runtime, email: string, password: string, from: string): Promise<SignIn> {
  const keys = [`email:${hashOf(tidy(email))}`, `from:${from.slice(0, 60)}`];
  const failures = await rt.db.orm.select().from(signInFailures).where(inArray(signInFailures.key, keys));
  const now = rt.now();
  const until = Math.max(0, ...failures.map((one) => one.lastAt + waitAfter(one.count)));
  if (until > now) {
    const seconds = Math.ceil((until - now) / 1000);
    return { ok: false, says: said("sign-in.too-many-wrong-tries", { seconds }), retryAfter: seconds };
  }
  const [person] = await rt.db.orm
    .select()
    .from(people)
    .where(eq(people.email, tidy(email)));
  // A hash is always computed, so that the time taken does not tell whether the address is known.
  const fits = await passwordFits(password.slice(0, 1000), person?.passwordHash ?? "scrypt$AAAA$AAAA");
  if (!person || !fits) {
    await rt.db.write(
      keys.map((key) =>
        rt.db.orm
          .insert(signInFailures)
          .values({ key, count: 1, lastAt: now })
          .onConflictDoUpdate({
            target: signInFailures.key,
            // A quiet hour forgives.
            set: { count: sql`case when last_at < ${now - HOUR} then 1 else count + 1 end`, lastAt: now },
          }),
      ),
    );
    return { ok: false, says: said("sign-in.e-mail-address-password") };
  }
  const token = rt.ids.secret();
  const expiresAt = now + LONGEST;
  await rt.db.write([
    rt.db.orm
      .insert(sessions)
      .values({ tokenHash: hashOf(token), personId: person.id, createdAt: now, seenAt: now, expiresAt }),
    rt.db.orm.delete(signInFailures).where(eq(signInFailures.key, keys[0] ?? "")),
    rt.db.orm.delete(sessions).where(lt(sessions.expiresAt, now)),
  ]);
  return { ok: true, token, expiresAt };
}

const ofSession = prepared((orm) =>
  orm
    .select({
      id: people.id,
      email: people.email,
      name: people.name,
      role: people.role,
      seenAt: sessions.seenAt,
    })
    .from(sessions)
    .innerJoin(people, eq(people.id, sessions.personId))
    .where(
      and(
        eq(sessions.tokenHash, sql.placeholder("tokenHash")),
        gt(sessions.expiresAt, sql.placeholder("now")),
        gt(sessions.seenAt, sql.placeholder("idleSince")),
      ),
    )
    .prepare(),
);

/** The person of a session token, or null when it is unknown, idle for too long or over. */
export async function personOf(rt: Runtime, token: string): Promise<Person | null> {
  const now = rt.now();
  const tokenHash = hashOf(token);
  const [found] = await ofSession(rt.db).all({ tokenHash, now, idleSince: now - IDLE });
  if (!found) return null;
  const { seenAt, ...person } = found;
  if (seenAt < now - 60_000) {
    await rt.db.write([
      rt.db.orm.update(sessions).set({ seenAt: now }).where(eq(sessions.tokenHash, tokenHash)),
    ]);
  }
  return person;
}

export async function signOut(rt: Runtime, token: string): Promise<void> {
  await rt.db.write([rt.db.orm.delete(sessions).where(eq(sessions.tokenHash, hashOf(token)))]);
}
