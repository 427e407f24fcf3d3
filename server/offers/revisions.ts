import { desc, eq, and, lt } from "drizzle-orm";
import { type OfferChange, offerChanges } from "#core/offers/changes";
import { type Problem, problem } from "#core/said";
import { REVISIONS_READ, revisionPage } from "../database/revisions";
import type { Revision } from "../database/rows";
import { offerRevisions } from "../database/schema";
import type { Runtime } from "../runtime";
import type { AnyOffer, StorefrontNow } from "../storefronts/now";
import { documentFor, termsFor } from "./terms";
import { type Saved, saveOffer } from "./offers";

/** A revision of an offer with what it changed of the one before; null for the first, which changed nothing. */
export interface RevisionLine extends Pick<Revision, "number" | "person" | "createdAt"> {
  changes: OfferChange[] | null;
}

/** A page of an offer's revisions, the newest first; `before` is the number it ends before, `next` that of the next page. */
export async function revisionsOf(
  rt: Runtime,
  { zones }: Pick<StorefrontNow, "zones">,
  offerId: string,
  before: number | null,
): Promise<{ rows: RevisionLine[]; next: number | null }> {
  const { rows, next } = revisionPage(
    await rt.db.orm
      .select()
      .from(offerRevisions)
      .where(
        and(
          eq(offerRevisions.offerId, offerId),
          before === null ? undefined : lt(offerRevisions.number, before),
        ),
      )
      .orderBy(desc(offerRevisions.number))
      .limit(REVISIONS_READ),
  );
  return {
    rows: rows.map(({ row: { number, person, createdAt, document }, earlier }) => ({
      ...{ number, person, createdAt },
      changes: earlier && offerChanges(earlier.document, document, zones),
    })),
    next,
  };
}

export async function revisionOf(rt: Runtime, offerId: string, number: number): Promise<Revision | null> {
  const [row] = await rt.db.orm
    .select()
    .from(offerRevisions)
    .where(and(eq(offerRevisions.offerId, offerId), eq(offerRevisions.number, number)));
  return row ?? null;
}

/** Makes what an earlier revision said the working one, as a revision of its own, as far as the storefront has it still. */
export async function restoreRevision(
  rt: Runtime,
  person: string,
  { storefront }: Pick<StorefrontNow, "storefront">,
  one: AnyOffer,
  number: number,
): Promise<Saved> {
  const revision = await revisionOf(rt, one.offer.id, number);
  const missing: Problem = problem("", "offers.no-such-revision");
  if (!revision) return { ok: false, problems: [missing] };
  const document = documentFor(revision.document, termsFor(storefront, one));
  return saveOffer(rt, person, storefront, one, document, one.working.number);
}
