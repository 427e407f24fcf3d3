import { and, desc, eq, inArray, lt, or, type SQL, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { meaningOf } from "#core/findings/kinds";
import type { Said } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { FindingRow } from "../database/rows";
import { findings } from "../database/schema";
import type { Runtime } from "../runtime";
import { findingPath, findingSays, findingTitle } from "./words";

/** A finding with its sentences. */
export interface FindingView {
  id: string;
  kind: FindingRow["kind"];
  /** How much it matters. */
  meaning: "wrong" | "waits";
  /** Where it is looked into. */
  to: string;
  title: Said;
  says: Said;
  state: FindingRow["state"];
  openedAt: number;
  snoozedUntil: number | null;
  resolvedAt: number | null;
  person: string | null;
  reason: string | null;
}

const viewOf = (row: FindingRow): FindingView => ({
  ...row,
  meaning: meaningOf(row.kind),
  to: findingPath(row),
  title: findingTitle(row),
  says: findingSays(row),
});

/** What of a finding's state counts as open now: what was put off comes back by itself. */
export const isOpenNow = (now: number): SQL =>
  or(
    eq(findings.state, "open"),
    and(eq(findings.state, "snoozed"), sql`${findings.snoozedUntil} <= ${now}`),
  ) as SQL;

/** The findings about one payment, the newest first. */
export async function findingsAbout(rt: Runtime, paymentId: string): Promise<FindingView[]> {
  const rows = await rt.db.orm
    .select()
    .from(findings)
    .where(eq(findings.paymentId, paymentId))
    .orderBy(desc(findings.openedAt), desc(findings.id));
  return rows.map(viewOf);
}

const PAGE = 50;

export interface FindingFilter {
  mode: Mode;
  /** Only those that wait for somebody, or all of them. */
  open: boolean;
  /** The id of the last one seen. */
  after: string | null;
}

/** A page of a storefront's findings, the newest first; `next` leads to the one after it. */
export async function listFindings(rt: Runtime, storefrontId: string, { mode, open, after }: FindingFilter) {
  const [from] = after ? await rt.db.orm.select().from(findings).where(eq(findings.id, after)) : [];
  const rows = await rt.db.orm
    .select()
    .from(findings)
    .where(
      and(
        eq(findings.storefrontId, storefrontId),
        eq(findings.mode, mode),
        open ? isOpenNow(rt.now()) : undefined,
        from
          ? or(
              lt(findings.openedAt, from.openedAt),
              and(eq(findings.openedAt, from.openedAt), lt(findings.id, from.id)),
            )
          : undefined,
      ),
    )
    .orderBy(desc(findings.openedAt), desc(findings.id))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  return { rows: page.map(viewOf), next: rows.length > PAGE ? (page.at(-1)?.id ?? null) : null };
}

/** What waits for somebody about payments, by their ids: the kinds of the findings. */
export async function openKinds(rt: Runtime, paymentIds: readonly string[]): Promise<Map<string, string[]>> {
  const kinds = new Map<string, string[]>();
  for (let at = 0; at < paymentIds.length; at += 100) {
    const rows = await rt.db.orm
      .select({ id: findings.paymentId, kind: findings.kind })
      .from(findings)
      .where(and(inArray(findings.paymentId, paymentIds.slice(at, at + 100)), isOpenNow(rt.now())));
    for (const { id, kind } of rows) if (id) kinds.set(id, [...(kinds.get(id) ?? []), kind]);
  }
  return kinds;
}

/** How many findings wait for somebody, by payment. */
export async function openByPayment(rt: Runtime, paymentIds: readonly string[]): Promise<Set<string>> {
  if (paymentIds.length === 0) return new Set();
  const rows = await rt.db.orm
    .selectDistinct({ id: findings.paymentId })
    .from(findings)
    .where(and(inArray(findings.paymentId, [...paymentIds]), isOpenNow(rt.now())));
  return new Set(rows.flatMap((row) => row.id ?? []));
}

export type Settling =
  { as: "resolved"; reason: string } | { as: "snoozed"; reason: string; until: number } | { as: "open" };

/** Settles a finding, puts it off until a time, or takes it up again. False when there is none. */
export async function settleFinding(
  rt: Runtime,
  person: string,
  storefrontId: string,
  id: string,
  settling: Settling,
): Promise<boolean> {
  const [row] = await rt.db.orm.select().from(findings).where(eq(findings.id, id));
  if (row?.storefrontId !== storefrontId) return false;
  const reason = settling.as === "open" ? null : settling.reason;
  const change = {
    state: settling.as,
    person: settling.as === "open" ? null : person,
    reason,
    snoozedUntil: settling.as === "snoozed" ? settling.until : null,
    resolvedAt: settling.as === "resolved" ? rt.now() : null,
  };
  await changeSettings(
    rt,
    {
      person,
      action: `finding ${settling.as}`,
      subject: row.subject,
      detail: { kind: row.kind, ...(reason && { reason }) },
    },
    [rt.db.orm.update(findings).set(change).where(eq(findings.id, id))],
  );
  return true;
}
