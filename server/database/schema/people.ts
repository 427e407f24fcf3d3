import { integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { Role } from "#core/people/roles";
import { id, at } from "./columns";

export const people = sqliteTable("people", {
  id: id(),
  email: text().notNull().unique(),
  name: text().notNull(),
  role: text().$type<Role>().notNull(),
  passwordHash: text().notNull(),
  createdAt: at(),
});

export const sessions = sqliteTable("sessions", {
  tokenHash: text().primaryKey(),
  personId: text()
    .notNull()
    .references(() => people.id),
  createdAt: at(),
  seenAt: at(),
  expiresAt: at(),
});

/** Failed sign-ins for one e-mail address or one network address. */
export const signInFailures = sqliteTable("sign_in_failures", {
  key: text().primaryKey(),
  count: integer().notNull(),
  lastAt: at(),
});

/** One-time addresses at which a person of a role is made. */
export const invitations = sqliteTable("invitations", {
  tokenHash: text().primaryKey(),
  role: text().$type<Role>().notNull(),
  createdAt: at(),
  expiresAt: at(),
  usedAt: integer(),
});
