import { blob, index, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { slipStates, type SlipState } from "#core/ways/offline/slip";
import { at, id, oneOf } from "./columns";
import { payments } from "./payments";

export const slipKinds = ["text", "picture", "pdf"] as const;
export type SlipKind = (typeof slipKinds)[number];

/** What shoppers sent in to show that they paid, where no provider moves the money. */
export const slips = sqliteTable(
  "slips",
  {
    id: id(),
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    kind: text().$type<SlipKind>().notNull(),
    /** What was written, where it is a text. */
    words: text(),
    /** A JPEG, or a PDF, made anew of what was sent in. */
    bytes: blob({ mode: "buffer" }),
    state: text().$type<SlipState>().notNull(),
    /** Whoever judged it, and when. */
    person: text(),
    judgedAt: integer(),
    createdAt: at(),
  },
  (t) => [
    index("slips_payment").on(t.paymentId, t.createdAt, t.id),
    oneOf("slips_kind", t.kind, slipKinds),
    oneOf("slips_state", t.state, slipStates),
  ],
);
