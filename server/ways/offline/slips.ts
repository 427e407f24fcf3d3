import { and, asc, eq, inArray } from "drizzle-orm";
import { said, type Told } from "#core/said";
import { LONGEST_SLIP, MOST_SLIPS, type SlipAsk, type SlipScene } from "#core/ways/offline/slip";
import { guard, guardFailed } from "../../database/guard";
import type { Checkout, Payment } from "../../database/rows";
import { offerRevisions, payments, slips } from "../../database/schema";
import { drawn } from "../../looks/pictures";
import type { Runtime } from "../../runtime";
import { receive } from "./money";
import { cleanPdf } from "./pdf";

const LARGEST = 4_000_000;

export type SlipSent =
  { ok: true } | { ok: false; because: "closed" | "too-many" | "too-large" | "unreadable" };

/** What a shopper sent in, without the file itself. */
export type SlipRow = Omit<typeof slips.$inferSelect, "bytes" | "paymentId">;

const listed = {
  ...{ id: slips.id, kind: slips.kind, words: slips.words, state: slips.state },
  ...{ person: slips.person, judgedAt: slips.judgedAt, createdAt: slips.createdAt },
};

/** Everything that was sent in for a payment, the oldest first. */
export const slipsOf = (rt: Runtime, paymentId: string): Promise<SlipRow[]> =>
  rt.db.orm
    .select(listed)
    .from(slips)
    .where(eq(slips.paymentId, paymentId))
    .orderBy(asc(slips.createdAt), asc(slips.id))
    .execute();

/** Of these payments those with something that nobody has judged yet. */
export const slipsWaiting = async (rt: Runtime, ids: readonly string[]): Promise<Set<string>> => {
  if (ids.length === 0) return new Set();
  const rows = await rt.db.orm
    .selectDistinct({ id: slips.paymentId })
    .from(slips)
    .where(and(inArray(slips.paymentId, [...ids]), eq(slips.state, "open")));
  return new Set(rows.map(({ id }) => id));
};

/** What a shopper is shown of what an offer asks for. */
export async function slipScene(
  rt: Runtime,
  paymentId: string,
  { asks, says }: SlipAsk,
  language: string,
): Promise<SlipScene> {
  const sent = await slipsOf(rt, paymentId);
  return {
    asks,
    says: says[language] ?? says[language.split("-")[0] ?? language] ?? null,
    state: sent.at(-1)?.state ?? null,
    open: sent.length < MOST_SLIPS && sent.every(({ state }) => state !== "accepted"),
  };
}

/**
 * Keeps what a shopper sends in: a few words, or a picture or PDF by its content, made anew without what else the file
 * holds. Nothing of it counts as money before a person has looked.
 */
export async function sendSlip(
  rt: Runtime,
  { id: paymentId, state }: Pick<Payment, "id" | "state">,
  { asks }: SlipAsk,
  given: FormDataEntryValue | null,
): Promise<SlipSent> {
  if (state !== "pending") return { ok: false, because: "closed" };
  const before = await slipsOf(rt, paymentId);
  if (before.length >= MOST_SLIPS) return { ok: false, because: "too-many" };
  const content = asks === "text" ? wordsOf(given) : await fileOf(given);
  if (typeof content === "string") return { ok: false, because: content };
  const row = { id: rt.ids.next("slp"), paymentId, state: "open" as const, createdAt: rt.now() };
  await rt.db.write([rt.db.orm.insert(slips).values({ ...row, ...content })]);
  return { ok: true };
}

/** The same by way of the checkout that the shopper looks at. */
export async function takeSlip(
  rt: Runtime,
  { activePaymentId }: Pick<Checkout, "activePaymentId">,
  given: FormDataEntryValue | null,
): Promise<SlipSent> {
  const [row] = await rt.db.orm
    .select({ payment: payments, document: offerRevisions.document })
    .from(payments)
    .innerJoin(offerRevisions, eq(offerRevisions.id, payments.revisionId))
    .where(eq(payments.id, activePaymentId ?? ""));
  const ask = row?.document.offline?.slip;
  return ask ? sendSlip(rt, row.payment, ask, given) : { ok: false, because: "closed" };
}

function wordsOf(given: FormDataEntryValue | null) {
  const words = typeof given === "string" ? given.trim() : "";
  return words === "" || words.length > LONGEST_SLIP ? "unreadable" : { kind: "text" as const, words };
}

async function fileOf(given: FormDataEntryValue | null) {
  if (!(given instanceof File) || given.size === 0) return "unreadable";
  if (given.size > LARGEST) return "too-large";
  const bytes = Buffer.from(await given.arrayBuffer());
  const picture = await drawn(bytes, {
    kinds: ["png", "jpeg", "webp"],
    box: { width: 2_000, height: 2_000 },
    as: "jpeg",
  });
  if (picture) return { kind: "picture" as const, bytes: picture.data };
  const pdf = await cleanPdf(bytes);
  return pdf ? { kind: "pdf" as const, bytes: pdf } : "unreadable";
}

/** The file of a slip, for signed-in people; null where there is none. */
export async function slipFile(
  rt: Runtime,
  paymentId: string,
  id: string,
): Promise<{ type: string; name: string; bytes: Buffer } | null> {
  const [row] = await rt.db.orm
    .select()
    .from(slips)
    .where(and(eq(slips.id, id), eq(slips.paymentId, paymentId)));
  if (!row?.bytes) return null;
  const isPdf = row.kind === "pdf";
  return {
    type: isPdf ? "application/pdf" : "image/jpeg",
    name: `${id}.${isPdf ? "pdf" : "jpg"}`,
    bytes: Buffer.from(row.bytes),
  };
}

/** A person judges what was sent in: accepted, all that is left is written down as come; refused, the shopper is asked again. */
export async function judgeSlip(
  rt: Runtime,
  person: string,
  payment: Payment,
  id: string,
  accepted: boolean,
): Promise<{ ok: boolean; says: Told }> {
  const open = and(eq(slips.id, id), eq(slips.paymentId, payment.id), eq(slips.state, "open"));
  const state = accepted ? ("accepted" as const) : ("refused" as const);
  const judged = [
    guard(slips, open),
    rt.db.orm.update(slips).set({ state, person, judgedAt: rt.now() }).where(open),
  ];
  const left = payment.amount - payment.captured;
  try {
    if (accepted && left > 0) {
      const entry = { amount: left, on: rt.now(), note: "", once: `slip-${id.slice(-12)}` };
      return await receive(rt, person, payment, entry, judged);
    }
    await rt.db.write(judged);
    return { ok: true, says: accepted ? said("offline.came") : said("offline.slip-noted") };
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, says: said("offline.slip-judged") };
  }
}
