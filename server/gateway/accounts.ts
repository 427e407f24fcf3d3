import { eq, isNull, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Profile } from "#core/profiles/profile";
import { ToldError } from "#core/said";
import { connections, keySets } from "../database/schema";
import { type JobKind, seeTo } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { type call, type Line, saysWhat } from "./gateway";

/** An account: a connection in one of its modes. */
export interface Account {
  connectionId: string;
  mode: Mode;
}

/** What work about an account is known by. */
export const accountKey = ({ connectionId, mode }: Account): string => `${connectionId}:${mode}`;

/** The account of such work. */
export function accountIn(key: string): Account {
  const cut = key.lastIndexOf(":");
  return { connectionId: key.slice(0, cut), mode: key.slice(cut + 1) as Mode };
}

/** Sees to it that work of a kind is there for every account whose provider can be asked for it. */
export async function seeToAccounts(
  rt: Runtime,
  kind: JobKind,
  canBeAsked: (profile: Profile) => boolean,
): Promise<void> {
  const accounts = await rt.db.orm
    .selectDistinct({
      connectionId: keySets.connectionId,
      mode: keySets.mode,
      versionId: sql<string>`case when ${keySets.mode} = 'test' then ${connections.testVersionId}
        else coalesce(${connections.liveVersionId}, ${connections.testVersionId}) end`,
    })
    .from(keySets)
    .innerJoin(connections, eq(connections.id, keySets.connectionId))
    .where(isNull(keySets.retiredAt));
  const wanted = [];
  for (const { versionId, ...account } of accounts) {
    const { profile } = await rt.library.version(versionId);
    if (canBeAsked(profile))
      wanted.push(seeTo(rt, { kind, key: accountKey(account), lane: account.connectionId }));
  }
  if (wanted.length > 0) await rt.db.write(wanted);
}

/** What a provider answered. Throws what it said instead. */
export async function mustAnswer<T>(
  line: Line,
  asked: Promise<Awaited<ReturnType<typeof call>>>,
): Promise<T> {
  const answer = await asked;
  if (answer.kind !== "answered") throw new ToldError(saysWhat(line.profile.name, answer));
  return answer.value as T;
}
