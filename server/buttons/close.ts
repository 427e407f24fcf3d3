import { and, eq, isNotNull, lt, ne, or, sql } from "drizzle-orm";
import type { Statement } from "../database/open";
import { buttonSessions } from "../database/schema";
import type { Shopper } from "../instruments/instruments";
import type { Runtime } from "../runtime";
import { askShop } from "./ask-shop";
import { endSession, sessionOf } from "./sessions";

/** How long after its end a purchase is known as it was. */
const KNOWN_FOR = 30 * 86_400_000;

/**
 * Ends a purchase whose time is over. A shop that was asked for an order of which nothing came hears so, until it has taken
 * it: what it may have made is never paid. False: it has to be told again.
 */
export async function closeSession(rt: Runtime, id: string): Promise<boolean> {
  const before = await sessionOf(rt, id);
  if (!before || before.state === "ordered") return true;
  await endSession(rt, before, "too-late");
  const session = await sessionOf(rt, id);
  if (session?.state !== "over" || session.askedAt === null) return true;
  // The shop itself said no, or the basket was ordered by another press: there is nothing to take back.
  if (session.because !== "too-late") return true;
  const told = await askShop(
    rt,
    session,
    "button.closed",
    { session: session.id, basket: session.basket },
    `${session.id}-closed`,
  );
  return told.kind === "answered";
}

/** What of a purchase says whom it was for. */
const NOBODYS = { place: null, contact: null, priced: null };

/** The statement that forgets whom a shopper's purchases by a button were for. */
export const forgetShopper = (rt: Runtime, { storefrontId, mode, shopper }: Shopper): Statement =>
  rt.db.orm
    .update(buttonSessions)
    .set(NOBODYS)
    .where(
      and(
        eq(buttonSessions.storefrontId, storefrontId),
        eq(buttonSessions.mode, mode),
        or(
          isNotNull(buttonSessions.place),
          isNotNull(buttonSessions.contact),
          isNotNull(buttonSessions.priced),
        ),
        sql`(select json_extract(c."order", '$.shopper') from checkouts c where c.id = ${buttonSessions.checkoutId}) = ${shopper}`,
      ),
    );

/** The statements that forget old purchases of which nothing came, and of those that were ordered who they were for. */
export function forgetOld(rt: Runtime): Statement[] {
  const isOld = lt(buttonSessions.expiresAt, rt.now() - KNOWN_FOR);
  return [
    rt.db.orm.delete(buttonSessions).where(and(ne(buttonSessions.state, "ordered"), isOld)),
    rt.db.orm
      .update(buttonSessions)
      .set(NOBODYS)
      .where(and(isNotNull(buttonSessions.place), isOld)),
  ];
}
