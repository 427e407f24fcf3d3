import { and, eq, gt, isNull, lte } from "drizzle-orm";
import type { Role } from "#core/people/roles";
import { changeSettings } from "../audit/audit";
import { guard, isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import { invitations, people } from "../database/schema";
import type { Runtime } from "../runtime";
import { addPerson, hashOf, type NewPerson } from "./people";

const DAY = 24 * 3_600_000;

/** A one-time address, good for a day, at which a person with this role is made; and the statement that makes it so. */
function newInvitation(rt: Runtime, role: Role): { address: string; statement: Statement } {
  const token = rt.ids.secret();
  const now = rt.now();
  const row = { tokenHash: hashOf(token), role, createdAt: now, expiresAt: now + DAY };
  return {
    address: `${rt.settings.origin}/welcome/${token}`,
    statement: rt.db.orm.insert(invitations).values(row),
  };
}

/** Invites somebody. The address is returned once and never kept. */
export async function invite(rt: Runtime, by: string, role: Role): Promise<string> {
  const { address, statement } = newInvitation(rt, role);
  await changeSettings(rt, { person: by, action: "person invited", subject: role, detail: { role } }, [
    statement,
  ]);
  return address;
}

/**
 * The address at which the first owner is made, or null when there is somebody already. There is one, however many
 * processes start: its token follows from the seal and a row that the first of them writes, and is kept nowhere.
 */
export async function firstOwnerLink(rt: Runtime): Promise<string | null> {
  for (;;) {
    const [someone] = await rt.db.orm.select({ id: people.id }).from(people).limit(1);
    if (someone) return null;
    const now = rt.now();
    const [known] = await rt.db.orm.select().from(invitations).where(eq(invitations.first, true));
    if (known && known.expiresAt > now && known.usedAt === null)
      return `${rt.settings.origin}/welcome/${firstToken(rt, known.createdAt)}`;
    const row = {
      tokenHash: hashOf(firstToken(rt, now)),
      role: "owner" as const,
      first: true,
      createdAt: now,
      expiresAt: now + DAY,
    };
    try {
      await rt.db.write([
        rt.db.orm
          .delete(invitations)
          .where(and(eq(invitations.first, true), lte(invitations.createdAt, known?.createdAt ?? 0))),
        rt.db.orm.insert(invitations).values(row),
      ]);
    } catch (error) {
      // Another process that starts at the same moment was quicker: its address is the one.
      if (!isConflict(error)) throw error;
    }
  }
}

/** Unguessable without the master key, and the same in every process that has it. */
const firstToken = (rt: Runtime, createdAt: number) => rt.seal.derive(`first owner ${createdAt}`);

/** The role that a one-time address gives, while it still opens. */
export async function invitedRole(rt: Runtime, token: string): Promise<Role | null> {
  const [found] = await rt.db.orm
    .select({ role: invitations.role })
    .from(invitations)
    .where(
      and(
        eq(invitations.tokenHash, hashOf(token)),
        isNull(invitations.usedAt),
        gt(invitations.expiresAt, rt.now()),
      ),
    );
  return found?.role ?? null;
}

export type Accepted = "made" | "over" | "address-taken";

/** Makes the person that a one-time address was for. However often it is pressed, it makes one. */
export async function acceptInvitation(rt: Runtime, token: string, person: NewPerson): Promise<Accepted> {
  const role = await invitedRole(rt, token);
  if (!role) return "over";
  const mine = eq(invitations.tokenHash, hashOf(token));
  const used = [
    guard(invitations, and(mine, isNull(invitations.usedAt))),
    rt.db.orm.update(invitations).set({ usedAt: rt.now() }).where(mine),
  ];
  try {
    await addPerson(rt, { ...person, role }, used);
    return "made";
  } catch (error) {
    if (!isConflict(error)) throw error;
    return (await invitedRole(rt, token)) ? "address-taken" : "over";
  }
}
