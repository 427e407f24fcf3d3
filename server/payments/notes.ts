import { desc, eq } from "drizzle-orm";
import { paymentNotes } from "../database/schema";
import type { Runtime } from "../runtime";

export const LONGEST_NOTE = 2_000;

/** Keeps what a person wrote about a payment; false where there is nothing in it, or too much. */
export async function addNote(
  rt: Runtime,
  person: string,
  paymentId: string,
  text: string,
): Promise<boolean> {
  const note = text.trim();
  if (note === "" || note.length > LONGEST_NOTE) return false;
  await rt.db.write([
    rt.db.orm
      .insert(paymentNotes)
      .values({ id: rt.ids.next("nte"), paymentId, person, text: note, at: rt.now() }),
  ]);
  return true;
}

/** What people wrote about a payment, the newest first. */
export const notesOf = (rt: Runtime, paymentId: string) =>
  rt.db.orm
    .select()
    .from(paymentNotes)
    .where(eq(paymentNotes.paymentId, paymentId))
    .orderBy(desc(paymentNotes.at), desc(paymentNotes.id))
    .limit(200);
