import { and, eq } from "drizzle-orm";
import { afterAsking, type Breaker, isLeftAlone, mayAsk, sound } from "#core/connections/breaker";
import type { Mode } from "#core/mode";
import { connectionTroubles } from "../database/schema";
import type { Database } from "../database/open";
import type { Settings } from "../settings";

interface Side {
  connectionId: string;
  mode: Mode;
}

const keyOf = ({ connectionId, mode }: Side) => `${mode} ${connectionId}`;

/** Which accounts are left alone for a while because their provider does not answer, as this process knows it. */
export class Breakers {
  readonly #known = new Map<string, Breaker>();

  of(side: Side): Breaker {
    return this.#known.get(keyOf(side)) ?? sound;
  }

  keep(side: Side, breaker: Breaker): void {
    if (breaker === sound) this.#known.delete(keyOf(side));
    else this.#known.set(keyOf(side), breaker);
  }
}

interface Asking {
  breakers: Breakers;
  db: Database;
  settings: Pick<Settings, "mostFailures">;
  /** Milliseconds since the epoch. */
  now(): number;
}

/** Whether an account may be asked now; how long it is still left alone where not, in milliseconds. */
export function leftAloneFor({ breakers, now }: Asking, side: Side): number | null {
  const { may, after } = mayAsk(breakers.of(side), now());
  breakers.keep(side, after);
  return may ? null : Math.max(0, (after.openUntil ?? now()) - now());
}

/** Whether an account would be left alone if it were asked now. Asks nobody, and changes nothing. */
export const isLeftAloneNow = ({ breakers, now }: Pick<Asking, "breakers" | "now">, side: Side): boolean =>
  !mayAsk(breakers.of(side), now()).may;

/** Notes whether an account answered. What begins or ends is written down, so that offers and home know of it. */
export async function noteAnswer(rt: Asking, side: Side, answered: boolean): Promise<void> {
  const before = rt.breakers.of(side);
  if (answered && before === sound) return;
  const after = afterAsking(before, answered, rt.now(), rt.settings.mostFailures);
  rt.breakers.keep(side, after);
  // Each time anew: another process may have found in between that it answers.
  if (isLeftAlone(after) && after.times > before.times) {
    const row = { ...side, since: rt.now() };
    await rt.db.write([rt.db.orm.insert(connectionTroubles).values(row).onConflictDoNothing()]);
  } else if (isLeftAlone(before) && !isLeftAlone(after)) await overcome(rt, side);
}

/** Says that an account answers again, whichever process found it in trouble. */
export const overcome = ({ db }: Pick<Asking, "db">, { connectionId, mode }: Side): Promise<void> =>
  db.write([
    db.orm
      .delete(connectionTroubles)
      .where(and(eq(connectionTroubles.connectionId, connectionId), eq(connectionTroubles.mode, mode))),
  ]);
