import { type Said, said } from "#core/said";
import { and, eq } from "drizzle-orm";
import { changeSettings } from "../audit/audit";
import type { ConnectionWithProfile } from "../connections/connections";
import { guard, guardFailed } from "../database/guard";
import { connections } from "../database/schema";
import type { Runtime } from "../runtime";
import { versionsOf } from "./profiles";

/**
 * Has a connection's test side run another version of its profile: a working change, which is rehearsed and then taken
 * to live by a cutover. Live goes on with the version it pins, and every payment with its own.
 */
export async function takeUpVersion(
  rt: Runtime,
  person: string,
  { connection, versions }: ConnectionWithProfile,
  versionId: string,
): Promise<{ ok: true; says: Said } | { ok: false; says: Said }> {
  const wanted = (await versionsOf(rt, connection.profileId)).find((one) => one.id === versionId);
  if (!wanted) return { ok: false, says: said("take-up.no-such-version") };
  if (wanted.id === connection.testVersionId) return { ok: false, says: said("take-up.test-runs-already") };
  try {
    await changeSettings(
      rt,
      {
        person,
        action: "profile version taken up",
        subject: connection.id,
        detail: { from: versions.test.version, to: wanted.version },
      },
      [
        guard(
          connections,
          and(eq(connections.id, connection.id), eq(connections.testVersionId, connection.testVersionId)),
        ),
        rt.db.orm
          .update(connections)
          .set({ testVersionId: wanted.id })
          .where(eq(connections.id, connection.id)),
      ],
    );
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, says: said("take-up.somebody-else-changed-version") };
  }
  return {
    ok: true,
    says: said("take-up.test-runs-version-now", { version: wanted.version }),
  };
}
