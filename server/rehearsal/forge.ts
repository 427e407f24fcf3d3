import { and, eq, sql } from "drizzle-orm";
import { said, type Told } from "#core/said";
import { sign } from "#core/webhooks/standard-webhooks";
import { currentEndpoint, endpointAddress } from "../connections/connections";
import type { ProviderPayment } from "../database/rows";
import { FORGED, webhooks } from "../database/schema";
import type { Runtime } from "../runtime";
import { talk } from "../wire/wire";

const TEST = "test";

/** Sends a message to our own address that claims a refund and is signed with a secret that is not ours. */
export async function forge(rt: Runtime, payment: ProviderPayment): Promise<Told | null> {
  const endpoint = await currentEndpoint(rt, payment.connectionId, TEST);
  const body = JSON.stringify({ claim: "refunded", reference: payment.reference, amount: payment.amount });
  const wrong = `whsec_${rt.ids.bytes(32).toString("base64")}`;
  const at = rt.now();
  const headers = { "content-type": "application/json", ...sign(wrong, rt.ids.next("forged"), at, body) };
  const outgoing = { method: "POST", url: endpointAddress(rt, endpoint), headers, body };
  const sent = await talk(
    rt,
    outgoing,
    (answered) => ({
      label: said("play.forged-webhook"),
      from: "provider",
      to: "zahlung",
      mode: TEST,
      paymentId: payment.id,
      secrets: [wrong, endpoint.path],
      ok: answered.ok && answered.status >= 300,
      ...(answered.ok && { outcome: answered.status < 300 ? "taken" : "refused" }),
    }),
    { within: 5_000, own: true },
  );
  // It is no warning to anybody: who finds it in a list is told whose it was.
  await rt.db.write([
    rt.db.orm
      .update(webhooks)
      .set({ event: FORGED, paymentId: payment.id })
      .where(
        and(
          eq(webhooks.endpointId, endpoint.id),
          sql`${webhooks.verdict} <> 'verified'`,
          eq(webhooks.body, body),
        ),
      ),
  ]);
  return sent.ok ? null : said("play.zahlungs-own-webhook-address");
}
