import { data } from "react-router";
import { money, parseTyped } from "#core/money/money";
import { type ActionKind, actionKinds } from "#core/payments/actions";
import type { Told } from "#core/said";
import { lookUp } from "#server/checkouts/look-up";
import type { Payment, Storefront } from "#server/database/rows";
import { settle } from "#server/operations/settle";
import { newsOfPaymentBy } from "#server/outbox/about";
import { sendAgain } from "#server/outbox/deliver";
import { act, actedWords } from "#server/payments/actions";
import { moveDispute } from "#server/payments/disputes";
import { readEvidence } from "#server/payments/evidence";
import { lookedAt } from "#server/payments/held-back";
import { takeLate } from "#server/payments/late";
import { takeNewerKeys } from "#server/payments/newer-keys";
import { addNote } from "#server/payments/notes";
import { decideReview } from "#server/payments/reviews";
import { decideRefund, refundOrAsk } from "#server/payments/second-person";
import { sendReceiptAgain, writeReceiptNow, writeReminder } from "#server/receipts/receipts";
import type { Runtime } from "#server/runtime";
import { judgeSlip } from "#server/ways/offline/slips";
import { type Entry, giveBack, giveUp, receive, takeBack } from "#server/ways/offline/money";
import { localeOf } from "../frame/storefront-context";
import { dayIn } from "../parts/zone";
import { spokenIn, tell } from "../words/spoken.server";
import { t } from "../words/pages/payments-answers";

export interface Press {
  rt: Runtime;
  /** Whoever presses, by their e-mail address. */
  person: string;
  storefront: Storefront;
  payment: Payment;
  form: FormData;
  /** The viewer's time zone. */
  zone: string;
}

const done = (says: string) => ({ ok: true as const, says });
const refused = (says: string) => data({ ok: false as const, says }, { status: 422 });
/** What came of it in its own words, or in ours where it went well. */
const outcome = (of: { ok: boolean; says?: Told }, well?: string) =>
  of.ok ? done(well ?? tell(of.says ?? "")) : refused(tell(of.says ?? ""));

/** Does what was pressed on a payment's page. */
export async function press(pressed: Press) {
  const { rt, person, payment, form } = pressed;
  const text = (name: string) => String(form.get(name) ?? "");
  const what = form.get("press");
  switch (what) {
    case "look-up":
      await lookUp(rt, payment);
      return done(t("looked-up"));
    case "came":
    case "gave-back": {
      const entry = entryOf(pressed);
      if (typeof entry === "string") return refused(entry);
      return outcome(await (what === "came" ? receive : giveBack)(rt, person, payment, entry));
    }
    case "accept-slip":
    case "refuse-slip":
      return outcome(await judgeSlip(rt, person, payment, text("slip"), what === "accept-slip"));
    case "take-back":
      return outcome(await takeBack(rt, person, payment, text("entry")));
    case "give-up":
      return outcome(await giveUp(rt, person, payment));
    case "send-again": {
      const news = await newsOfPaymentBy(rt, payment.id, text("news"));
      if (!news) throw data(t("there-is-no-such-news"), { status: 404 });
      await sendAgain(rt, news);
      return done(t("it-is-being-sent-again"));
    }
    case "send-receipt":
      await sendReceiptAgain(rt, person, payment.id, text("receipt"));
      return done(t("it-is-being-sent-again"));
    case "remind":
      return outcome(await writeReminder(rt, payment), t("it-is-being-sent"));
    case "write-receipt":
      return outcome(await writeReceiptNow(rt, payment), t("it-is-being-sent"));
    case "newer-keys":
      return (await takeNewerKeys(rt, person, payment))
        ? done(t("it-goes-on-with-the"))
        : refused(t("there-are-no-newer-proven"));
    case "note":
      return (await addNote(rt, person, payment.id, text("note")))
        ? done(t("written-down"))
        : refused(t("write-a-few-words"));
    case "take-late":
      return outcome(await takeLate(rt, person, payment), t("taken-for-the-order"));
    case "answer-dispute": {
      const evidence = await readEvidence(form.getAll("file").filter((one) => one instanceof File));
      if (!evidence.ok) return refused(tell(evidence.says));
      const { files } = evidence;
      return outcome(await moveDispute(rt, person, payment, { as: "answer", text: text("text"), files }));
    }
    case "accept-dispute":
      return outcome(await moveDispute(rt, person, payment, { as: "accept" }));
    case "let-go-on":
    case "refuse-it":
      return outcome(await lookedAt(rt, person, payment, what === "refuse-it" ? "refuse" : "go-on"));
    case "pass-review":
    case "refuse-review":
      return outcome(await decideReview(rt, person, payment, what === "pass-review" ? "pass" : "refuse"));
    case "agree":
    case "decline": {
      const agrees = what === "agree";
      const decided = await decideRefund(rt, person, payment, text("request"), agrees);
      return outcome(decided, agrees ? t("refunded-title") : t("not-refunded"));
    }
    case "settle": {
      const found = form.get("found") === "done" ? "done" : "nothing";
      return outcome(await settle(rt, person, payment, text("operation"), found), t("noted"));
    }
    default:
      if (!isAction(what)) throw data(t("that-cannot-be-done-here"), { status: 400 });
      return moveMoney(pressed, what);
  }
}

const isAction = (value: unknown): value is ActionKind => actionKinds.some((kind) => kind === value);

const noAmount = (text: string, { currency }: Payment) =>
  t("text-is-not-an-amount", { text: text.slice(0, 30), currency });

/** What a person writes down about money, or what is wrong with it. */
function entryOf({ form, payment, storefront, zone }: Press): Entry | string {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const parsed = parseTyped(text("amount"), payment.currency, localeOf(storefront));
  if (!parsed.ok) return noAmount(text("amount"), payment);
  const day = dayIn(text("on"), zone);
  if (!day) return t("say-on-which-day-it");
  return { amount: parsed.money.amount, on: day.from, note: text("note"), once: onceOf(form, 80) };
}

/** Tells one press from another, so that the same press counts once. */
function onceOf(form: FormData, longest: number): string {
  const once = String(form.get("once") ?? "").slice(0, longest);
  if (once === "") throw data(t("the-form-is-malformed"), { status: 400 });
  return once;
}

/** Captures, releases, voids or refunds at the provider. */
async function moveMoney({ rt, person, storefront, payment, form }: Press, kind: ActionKind) {
  const text = String(form.get("amount") ?? "").trim();
  const parsed =
    kind === "void"
      ? { ok: true as const, money: money(payment.held, payment.currency) }
      : parseTyped(text, payment.currency, localeOf(storefront));
  if (!parsed.ok)
    return data({ ok: false as const, press: kind, says: noAmount(text, payment) }, { status: 422 });
  const reason = String(form.get("reason") ?? "")
    .trim()
    .slice(0, 200);
  const move = kind === "refund" ? refundOrAsk : act;
  const acted = await move(rt, person, payment, {
    kind,
    amount: parsed.money.amount,
    once: onceOf(form, 60),
    ...(reason && { reason }),
    ...(form.get("final") === "yes" && { final: true }),
  });
  if (!acted.ok && "waits" in acted) return { ok: true as const, press: kind, says: tell(acted.says) };
  if (!acted.ok) return data({ ok: false as const, press: kind, says: tell(acted.says) }, { status: 422 });
  const says = spokenIn(localeOf(storefront)).say(actedWords(kind, parsed.money));
  return { ok: true as const, press: kind, says };
}
