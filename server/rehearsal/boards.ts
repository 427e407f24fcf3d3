import { eq } from "drizzle-orm";
import { standingOf } from "../cutover/standing";
import type { Proof } from "../database/rows";
import { proofs } from "../database/schema";
import type { Runtime } from "../runtime";
import { mustStand, type OfferWithRevisions } from "../storefronts/now";
import type { Board } from "./board";

/** The case board of one offer, as its storefront stands now. */
export async function boardOf(
  rt: Runtime,
  { offer, connection }: Pick<OfferWithRevisions, "offer" | "connection">,
): Promise<Board> {
  const now = await mustStand(rt, offer.storefrontId);
  const { offers } = await standingOf(rt, now, connection.id);
  const found = offers.find((one) => one.offer.offer.id === offer.id);
  if (!found) throw new Error(`offer ${offer.id} was removed`);
  return found.board;
}

export async function proofOf(rt: Runtime, id: string): Promise<Proof | null> {
  const [row] = await rt.db.orm.select().from(proofs).where(eq(proofs.id, id));
  return row ?? null;
}
