import { and, desc, eq, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { webhooks } from "../database/schema";
import type { Runtime } from "../runtime";
import { type ConnectionWithProfile, currentEndpoint, currentKeySet, endpointAddress } from "./connections";
import { latestCheck, payingKeys } from "./keys";
import { copyableSecret } from "./webhook";

/** What a cell of the handshake sheet says. */
export type Cell =
  | { state: "missing" }
  /** `waitsFor` are the labels of what has to be there before it can be proven. */
  | { state: "entered"; hint: string; at: number; waitsFor: string[] }
  | { state: "proven"; hint: string; at: number }
  | { state: "stale"; hint: string; at: number; says: string }
  | { state: "wrong"; hint: string; says: string; code: string | null };

/** One mode's column of the handshake sheet. */
export interface Column {
  mode: Mode;
  fields: Record<string, Cell>;
  account: {
    name: string;
    account: string;
    country: string;
    currencies: { charged: string; settled: string }[];
    at: number;
  } | null;
  findings: { says: string; blocking: boolean }[];
  unanswered: string | null;
  /** When earlier keys were entered that live payments go on with, because those on the sheet are not proven. */
  paysWithKeysOf: number | null;
  webhook: {
    address: string;
    secret: string | null;
    secretHint: string;
    registered: boolean;
    provenAt: number | null;
    /** The newest message that was not believed, and why, if nothing good came after it. */
    refused: { at: number; verdict: string } | null;
  };
}

export async function columnOf(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
): Promise<Column> {
  const [keys, check, endpoint, paying] = await Promise.all([
    currentKeySet(rt, connection.id, mode),
    latestCheck(rt, connection.id, mode),
    currentEndpoint(rt, connection.id, mode),
    payingKeys(rt, { connection, profile }, mode),
  ]);
  const [refused] = await rt.db.orm
    .select({ at: webhooks.receivedAt, verdict: webhooks.verdict })
    .from(webhooks)
    .where(and(eq(webhooks.endpointId, endpoint.id), sql`verdict <> 'verified'`))
    .orderBy(desc(webhooks.number))
    .limit(1);
  const fresh = check?.keySetId === keys?.id;
  const needed = profile.operations.account?.proves ?? [];
  const waitsFor = profile.fields
    .filter((field) => needed.includes(field.id) && !keys?.values[field.id])
    .map((field) => field.label.toLowerCase());
  const fields = Object.fromEntries(
    profile.fields.map((field): [string, Cell] => {
      const entry = keys?.values[field.id];
      if (!entry) return [field.id, { state: "missing" }];
      const hint = entry.sealed ? `…${entry.hint}` : entry.value;
      const wrong = fresh ? check?.wrong[field.id] : undefined;
      if (wrong) return [field.id, { state: "wrong", hint, ...wrong }];
      if (check?.proven.includes(field.id)) {
        if (fresh) return [field.id, { state: "proven", hint, at: check.at }];
        return [
          field.id,
          { state: "stale", hint, at: check.at, says: "Keys were entered since it was proven." },
        ];
      }
      return [field.id, { state: "entered", hint, at: entry.at, waitsFor }];
    }),
  );
  return {
    mode,
    fields,
    account: fresh && check?.account ? { ...check.account, at: check.at } : null,
    findings: fresh ? (check?.findings ?? []) : [],
    unanswered: fresh ? (check?.unanswered ?? null) : null,
    paysWithKeysOf:
      connection.live === "live" && paying && paying.keySet.id !== keys?.id ? paying.keySet.createdAt : null,
    webhook: {
      address: endpointAddress(rt, endpoint),
      secret: copyableSecret(rt, endpoint),
      secretHint: endpoint.secretHint,
      registered: endpoint.registration !== null,
      provenAt: endpoint.provenAt,
      refused: refused && refused.at > (endpoint.provenAt ?? 0) ? refused : null,
    },
  };
}
