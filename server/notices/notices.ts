import { and, asc, eq, gt } from "drizzle-orm";
import { type Said, said, type Told } from "#core/said";
import { sign } from "#core/webhooks/standard-webhooks";
import { changeSettings } from "../audit/audit";
import type { FindingRow, Storefront } from "../database/rows";
import { findings, notices, storefronts } from "../database/schema";
import { isOpenNow } from "../findings/findings";
import { findingPath, findingSays, findingTitle } from "../findings/words";
import type { Runtime } from "../runtime";
import { addressRefused } from "../wire/addresses";
import { send } from "../wire/wire";
import { sendMail } from "./mail";

const MINUTE = 60_000;
/** After one letter nobody gets another for so long, whatever is found meanwhile: what comes then comes together. */
const QUIET = 15 * MINUTE;
const MOST = 50;
const PATIENCE = 10_000;

export type Notice = typeof notices.$inferSelect;

export async function noticeOf(rt: Runtime, storefrontId: string): Promise<Notice | null> {
  const [row] = await rt.db.orm.select().from(notices).where(eq(notices.storefrontId, storefrontId));
  return row ?? null;
}

export type NoticeSet =
  { ok: true; secret: string | null } | { ok: false; field: "email" | "address"; says: Told };

/**
 * Says to whom findings are told; empty texts: to nobody. A new address gets a secret of its own, which is handed back once.
 */
export async function setNotice(
  rt: Runtime,
  person: string,
  storefrontId: string,
  { email, address }: { email: string; address: string },
): Promise<NoticeSet> {
  if (email && !/^[^\s@<>"]{1,100}@[^\s@<>"]+\.[^\s@<>".]{2,}$/.test(email))
    return { ok: false, field: "email", says: said("notices.no-email") };
  const refused = address ? await addressRefused(rt, address) : undefined;
  if (refused) return { ok: false, field: "address", says: refused };
  const before = await noticeOf(rt, storefrontId);
  const isNew = address !== "" && address !== before?.address;
  const secret = isNew ? `whsec_${rt.ids.bytes(32).toString("base64")}` : null;
  const sealed = secret
    ? rt.seal.close(secret, `notices:${storefrontId}`)
    : address
      ? (before?.secret ?? null)
      : null;
  const row = { email: email || null, address: address || null, secret: sealed, outcome: null };
  // Whoever is named now is told of what is found from now on.
  const toldUntil = before?.email || before?.address ? before.toldUntil : rt.now();
  await changeSettings(
    rt,
    { person, action: "notices set", subject: storefrontId, detail: { email: Boolean(email), address } },
    [
      rt.db.orm
        .insert(notices)
        .values({ storefrontId, ...row, toldUntil })
        .onConflictDoUpdate({ target: notices.storefrontId, set: { ...row, toldUntil } }),
    ],
  );
  return { ok: true, secret };
}

/** Tells each storefront's people what was found since the last letter, together in one. */
export async function tellFindings(rt: Runtime): Promise<void> {
  const all = await rt.db.orm
    .select({ notice: notices, storefront: storefronts })
    .from(notices)
    .innerJoin(storefronts, eq(storefronts.id, notices.storefrontId));
  for (const { notice, storefront } of all) {
    if (!notice.email && !notice.address) continue;
    if (notice.sentAt !== null && rt.now() - notice.sentAt < QUIET) continue;
    const found = await rt.db.orm
      .select()
      .from(findings)
      .where(
        and(
          eq(findings.storefrontId, storefront.id),
          eq(findings.mode, "live"),
          gt(findings.openedAt, notice.toldUntil),
          isOpenNow(rt.now()),
        ),
      )
      .orderBy(asc(findings.openedAt))
      .limit(MOST);
    if (found.length > 0) await tell(rt, notice, storefront, found);
  }
}

async function tell(rt: Runtime, notice: Notice, storefront: Storefront, found: FindingRow[]): Promise<void> {
  const outcomes: Said[] = [];
  const attempt = async (what: () => Promise<void>) => {
    try {
      await what();
    } catch (error) {
      outcomes.push(said("notices.not-taken", { because: error instanceof Error ? error.message : "" }));
    }
  };
  const { email, address } = notice;
  if (email) await attempt(() => sendMail(rt, letterOf(rt, email, storefront, found)));
  if (address) await attempt(() => sendMessage(rt, notice, address, found));
  const [failed] = outcomes;
  const change = failed
    ? { outcome: failed }
    : { outcome: null, sentAt: rt.now(), toldUntil: found.at(-1)?.openedAt ?? notice.toldUntil };
  await rt.db.write([
    rt.db.orm.update(notices).set(change).where(eq(notices.storefrontId, notice.storefrontId)),
  ]);
}

function letterOf(rt: Runtime, to: string, { id, name }: Storefront, found: FindingRow[]) {
  const { origin } = rt.settings;
  const parts = found.map(
    (one) => `${rt.speak(findingTitle(one))}\n${rt.speak(findingSays(one))}\n${origin}${findingPath(one)}`,
  );
  return {
    to,
    subject: rt.speak(said("notices.subject", { findings: found.length, storefront: name })),
    text: `${parts.join("\n\n")}\n\n${rt.speak(said("notices.all-of-them"))}\n${origin}/s/${id}/operate/findings?mode=live\n`,
  };
}

/** A message signed by the Standard Webhooks specification, with codes and values. */
async function sendMessage(rt: Runtime, notice: Notice, url: string, found: FindingRow[]): Promise<void> {
  const secret = rt.seal.open(notice.secret ?? "", `notices:${notice.storefrontId}`);
  const body = JSON.stringify({
    type: "findings.opened",
    timestamp: new Date(rt.now()).toISOString(),
    data: {
      storefront: notice.storefrontId,
      findings: found.map(({ id, kind, subject, orderReference, paymentId, openedAt, values }) => ({
        ...{ finding: id, kind, subject, order: orderReference, payment: paymentId, values },
        since: new Date(openedAt).toISOString(),
      })),
    },
  });
  // The same findings keep their id, so that a message that came twice is known by it.
  const headers = {
    "content-type": "application/json",
    ...sign(secret, `msg_${found.at(-1)?.id ?? ""}`, rt.now(), body),
  };
  const sent = await send(rt, { method: "POST", url, headers, body }, { within: PATIENCE });
  if (!sent.ok) throw new Error(sent.because);
  if (sent.status >= 300) throw new Error(`HTTP ${sent.status}`);
}
