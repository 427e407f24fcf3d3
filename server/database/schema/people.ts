import { sql } from "drizzle-orm";
import { check, index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { type Role, roles } from "#core/people/roles";
import { areFlags, id, at, flag, notNegative, oneOf } from "./columns";

export const people = sqliteTable(
  "people",
  {
    id: id(),
    email: text().notNull().unique(),
    name: text().notNull(),
    role: text().$type<Role>().notNull(),
    passwordHash: text().notNull(),
    createdAt: at(),
  },
  (t) => [index("people_list").on(t.createdAt, t.id), oneOf("people_role", t.role, roles)],
);

export const sessions = sqliteTable(
  "sessions",
  {
    tokenHash: text().primaryKey(),
    personId: text()
      .notNull()
      .references(() => people.id),
    createdAt: at(),
    seenAt: at(),
    expiresAt: at(),
  },
  (t) => [
    index("sessions_person").on(t.personId),
    index("sessions_expiry").on(t.expiresAt),
    check("sessions_times", sql`${t.expiresAt} >= ${t.createdAt}`),
  ],
);

/** Failed sign-ins for one e-mail address or one network address. */
export const signInFailures = sqliteTable(
  "sign_in_failures",
  {
    key: text().primaryKey(),
    count: integer().notNull(),
    lastAt: at(),
  },
  (t) => [notNegative("sign_in_failures_counts", t.count)],
);

/** One-time addresses at which a person of a role is made. */
export const invitations = sqliteTable(
  "invitations",
  {
    tokenHash: text().primaryKey(),
    role: text().$type<Role>().notNull(),
    /** The first owner's: there is one while there is nobody, and its address can be made again from the seal. */
    first: flag().default(false),
    createdAt: at(),
    expiresAt: at(),
    usedAt: integer(),
  },
  (t) => [
    uniqueIndex("invitations_first")
      .on(t.first)
      .where(sql`first = 1`),
    oneOf("invitations_role", t.role, roles),
    areFlags("invitations_flags", t.first),
  ],
);
