import { and, eq, inArray, sql } from "drizzle-orm";
import { ORDERING_TAKES, type Over } from "#core/buttons/course";
import type { Cart } from "#core/offers/decide";
import { placeOf } from "#core/places/address";
import { guard, guardFailed, isConflict } from "../database/guard";
import type { ButtonSession } from "../database/rows";
import { buttonSessions } from "../database/schema";
import { type Line, openLine } from "../gateway/gateway";
import type { Runtime } from "../runtime";

const isToken = (text: string) => /^[\w-]{43}$/.test(text);

/** A purchase by what its shopper's browser names it. */
export async function sessionByToken(rt: Runtime, token: string): Promise<ButtonSession | null> {
  if (!isToken(token)) return null;
  const [row] = await rt.db.orm.select().from(buttonSessions).where(eq(buttonSessions.token, token));
  return row ?? null;
}

/** A purchase by what its wallet was told to ask at. */
export async function sessionByAskToken(rt: Runtime, token: string): Promise<ButtonSession | null> {
  if (!isToken(token)) return null;
  const [row] = await rt.db.orm.select().from(buttonSessions).where(eq(buttonSessions.askToken, token));
  return row ?? null;
}

export async function sessionOf(rt: Runtime, id: string): Promise<ButtonSession | null> {
  const [row] = await rt.db.orm.select().from(buttonSessions).where(eq(buttonSessions.id, id));
  return row ?? null;
}

export const sessionAddress = (rt: Runtime, { token }: Pick<ButtonSession, "token">) =>
  `${rt.settings.origin}/buy/${token}`;

/** The line that a purchase was begun over: with its keys, and the profile version of then. */
export const lineOfSession = (
  rt: Runtime,
  { connectionId, mode, keySetId, versionId }: ButtonSession,
): Promise<Line | null> => openLine(rt, { connectionId, mode, keySetId, versionId });

/** What is bought as `decide` needs it, at the address and with the sums that are known by now. */
export function cartNow(rt: Pick<Runtime, "now">, { cart, place, priced, delivery }: ButtonSession): Cart {
  const choice = priced?.deliveries.find(({ id }) => id === delivery);
  const shipTo = place && placeOf(place);
  return {
    ...cart,
    ...(shipTo && { country: shipTo.country }),
    ...(choice && { total: { amount: choice.total, currency: cart.total.currency } }),
    ...(priced && { goods: priced.lines.reduce((sum, { total }) => sum + total, 0) }),
    asked: { ...cart.asked, ...(shipTo && { shipTo, billTo: shipTo }), at: rt.now() },
  };
}

type Changes = Partial<Omit<ButtonSession, "id">>;

/** Changes a purchase as long as it stands where it is thought to. False: it has gone on in between. */
export async function changeSession(
  rt: Runtime,
  id: string,
  states: readonly ButtonSession["state"][],
  changes: Changes,
): Promise<boolean> {
  try {
    await rt.db.write([
      guard(buttonSessions, and(eq(buttonSessions.id, id), inArray(buttonSessions.state, [...states]))),
      rt.db.orm.update(buttonSessions).set(changes).where(eq(buttonSessions.id, id)),
    ]);
    return true;
  } catch (error) {
    if (guardFailed(error)) return false;
    throw error;
  }
}

/** Ends a purchase of which nothing is ordered. Where the shop was asked for an order, it hears so; see `closeSession`. */
export async function endSession(
  rt: Runtime,
  { id }: Pick<ButtonSession, "id">,
  because: Over,
  says: string | null = null,
): Promise<void> {
  await changeSession(rt, id, ["open", "agreed", "ordering"], { state: "over", because, says });
}

/** Whether the same basket was ordered by another purchase. */
export async function isOrderedElsewhere(rt: Runtime, session: ButtonSession): Promise<boolean> {
  const [other] = await rt.db.orm
    .select({ id: buttonSessions.id })
    .from(buttonSessions)
    .where(
      sql`storefront_id = ${session.storefrontId} and mode = ${session.mode} and basket = ${session.basket}
        and id <> ${session.id} and state = 'ordered'`,
    )
    .limit(1);
  return other !== undefined;
}

/**
 * Takes the right to have the order made: one basket is ordered once, by whichever purchase comes first. `busy`: somebody is
 * at it just now; `elsewhere`: another purchase of the same basket has it.
 */
export async function claimOrder(
  rt: Runtime,
  session: ButtonSession,
): Promise<"claimed" | "busy" | "elsewhere"> {
  const now = rt.now();
  const mine = sql`id = ${session.id} and (state = 'agreed' or (state = 'ordering' and claimed_until <= ${now}))`;
  try {
    await rt.db.write([
      guard(buttonSessions, mine),
      // Whoever died over the same basket is not waited for; the shop knows by the basket what it has made of it.
      rt.db.orm
        .update(buttonSessions)
        .set({ state: "over", because: "elsewhere" })
        .where(
          sql`storefront_id = ${session.storefrontId} and mode = ${session.mode} and basket = ${session.basket}
            and id <> ${session.id} and state = 'ordering' and claimed_until <= ${now}`,
        ),
      rt.db.orm
        .update(buttonSessions)
        .set({ state: "ordering", claimedUntil: now + ORDERING_TAKES, askedAt: now })
        .where(eq(buttonSessions.id, session.id)),
    ]);
    return "claimed";
  } catch (error) {
    if (guardFailed(error)) return "busy";
    if (isConflict(error)) return "elsewhere";
    throw error;
  }
}
