import { type Said, said } from "#core/said";
import { and, eq, ne, sql } from "drizzle-orm";
import { createHash } from "node:crypto";
import type { Role } from "#core/people/roles";
import { changeSettings } from "../audit/audit";
import type { Statement } from "../database/open";
import { people, sessions } from "../database/schema";
import type { Runtime } from "../runtime";
import { hashPassword, passwordFits, passwordProblem } from "./passwords";

export interface Person {
  id: string;
  email: string;
  name: string;
  role: Role;
}

export interface NewPerson {
  email: string;
  name: string;
  password: string;
}

/** What is kept of a token that opens something: it is never kept itself. */
export const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

/** An e-mail address as it is compared. */
export const tidy = (email: string) => email.trim().toLowerCase().slice(0, 254);

/** Complaints about a new person's details, by field. */
export function personProblems(person: NewPerson): Partial<Record<keyof NewPerson, Said>> {
  const problems: Partial<Record<keyof NewPerson, Said>> = {};
  if (!/^[^\s@]+@[^\s@]+$/.test(tidy(person.email))) problems.email = said("people.not-e-mail-address");
  if (person.name.trim() === "" || person.name.length > 80)
    problems.name = said("people.name-up-80-characters");
  const password = passwordProblem(person.password);
  if (password) problems.password = password;
  return problems;
}

/**
 * Adds a person; `also` is written in the same transaction. Throws on a constraint when the e-mail address is
 * taken, or when one of `also` fails.
 */
export async function addPerson(
  rt: Runtime,
  person: NewPerson & { role: Role },
  also: readonly Statement[] = [],
): Promise<string> {
  const id = rt.ids.next("per");
  const passwordHash = await hashPassword(person.password);
  const row = {
    id,
    email: tidy(person.email),
    name: person.name.trim(),
    role: person.role,
    passwordHash,
    createdAt: rt.now(),
  };
  const detail = { email: row.email, role: row.role };
  await changeSettings(rt, { person: row.email, action: "person added", subject: id, detail }, [
    ...also,
    rt.db.orm.insert(people).values(row),
  ]);
  return id;
}

export const allPeople = (rt: Runtime): Promise<(Person & { createdAt: number })[]> =>
  rt.db.orm
    .select({
      ...{ id: people.id, email: people.email, name: people.name, role: people.role },
      createdAt: people.createdAt,
    })
    .from(people)
    .orderBy(people.createdAt);

/** Takes a person out and ends their sessions. Says why when it is the last owner, or nobody. */
export async function removePerson(rt: Runtime, by: string, id: string): Promise<Said | null> {
  const all = await allPeople(rt);
  const gone = all.find((one) => one.id === id);
  if (!gone) return said("people.no-such-person");
  if (gone.role === "owner" && all.filter((one) => one.role === "owner").length === 1)
    return said("people.last-owner-cannot-taken");
  const detail = { email: gone.email, role: gone.role };
  await changeSettings(rt, { person: by, action: "person taken out", subject: id, detail }, [
    rt.db.orm.delete(sessions).where(eq(sessions.personId, id)),
    // Decided again here, for two owners who take each other out at the same moment.
    rt.db.orm
      .delete(people)
      .where(
        and(
          eq(people.id, id),
          sql`(role <> 'owner' or (select count(*) from people where role = 'owner') > 1)`,
        ),
      ),
  ]);
  return null;
}

/** Changes a person's own password and ends their other sessions. Says what is wrong, or null. */
export async function changePassword(
  rt: Runtime,
  person: Person,
  { old, next, session }: { old: string; next: string; session: string },
): Promise<{ field: "old" | "next"; says: Said } | null> {
  const [row] = await rt.db.orm.select().from(people).where(eq(people.id, person.id));
  if (!row || !(await passwordFits(old.slice(0, 1000), row.passwordHash)))
    return { field: "old", says: said("people.not-your-password") };
  const problem = passwordProblem(next);
  if (problem) return { field: "next", says: problem };
  const passwordHash = await hashPassword(next);
  await changeSettings(rt, { person: person.email, action: "password changed", subject: person.id }, [
    rt.db.orm.update(people).set({ passwordHash }).where(eq(people.id, person.id)),
    rt.db.orm
      .delete(sessions)
      .where(and(eq(sessions.personId, person.id), ne(sessions.tokenHash, hashOf(session)))),
  ]);
  return null;
}
