import { type Money } from "#core/money/money";
import type { ByLines } from "#core/orders/by-lines";
import { isUnderWay, movedOf } from "#core/operations/operation";
import {
  type ActionCapabilities,
  type ActionKind,
  type Allowed,
  allowedActions,
  amountRefused,
} from "#core/payments/actions";
import { fold } from "#core/payments/fold";
import { methodOf, type Profile } from "#core/profiles/profile";
import { type Said, said, sentences, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import { isConflict } from "../database/guard";
import type { Operation, Payment } from "../database/rows";
import { lineOf, type RimFault } from "../gateway/gateway";
import { carryOut, readAtProvider } from "../operations/carry-out";
import { beginning, nothingUnderWay, pressedBefore, underWayOf } from "../operations/operations";
import type { Runtime } from "../runtime";
import { recordedOf } from "./facts";
import { recordReading } from "./readings";
import { paymentOf } from "./record";

/** What may be done with a payment now, decided from its facts and its method. */
export const actionsOf = async (
  rt: Runtime,
  payment: Payment,
  profile: Profile,
): Promise<Record<ActionKind, Allowed>> => (await possible(rt, payment, profile)).allowed;

/** What a method of a provider can do with money that is held or taken. */
export function capabilitiesOf(profile: Profile, methodId: string): ActionCapabilities {
  const method = methodOf(profile, methodId);
  return {
    capture: method?.capture.includes("later") ?? false,
    partialCapture: method?.partialCapture ?? false,
    severalCaptures: method?.severalCaptures ?? false,
    release: profile.operations.release !== undefined,
    void: method?.void ?? false,
    refund: method?.refund ?? false,
    partialRefund: method?.partialRefund ?? false,
  };
}

async function possible(rt: Runtime, payment: Payment, profile: Profile) {
  const standing = fold(await recordedOf(rt, payment.id));
  const can = capabilitiesOf(profile, payment.methodId);
  return { standing, can, allowed: allowedActions(standing, can) };
}

/** `open`: whether it was done is not known yet; it is looked up until it is. */
export type Acted = { ok: true; payment: Payment } | { ok: false; says: Told; code?: string; open?: true };

export interface Press {
  kind: ActionKind;
  /** Minor units of the payment's currency. */
  amount: number;
  /** Tells one press from another: the same press moves money once, and never another amount. */
  once: string;
  reason?: string;
  /** Milliseconds that whoever pressed waits for a provider in trouble; none where nobody waits. */
  patience?: number;
  /** Which part of the order it is about, where whoever presses said so. */
  byLines?: ByLines;
  /** Of a capture: nothing more will be taken, so that the provider may let the rest go. */
  final?: boolean;
  /** A rehearsal's fault: what is made of the provider's answer. */
  fault?: RimFault;
}

/**
 * Captures, releases, voids or refunds at the provider, with the keys and the profile version the payment began with. One
 * operation of a payment is under way at a time; what a silence leaves open is looked up until it is known.
 */
export async function act(rt: Runtime, person: string, payment: Payment, press: Press): Promise<Acted> {
  const line = await lineOf(rt, payment);
  if (!line || !payment.providerRef) return { ok: false, says: said("actions.provider-no-record-payment") };
  const { kind, amount, once } = press;
  const before = await pressedBefore(rt, payment.id, once);
  if (before && (before.kind !== kind || before.amount !== amount))
    return { ok: false, says: said("actions.form-used-look-what") };
  if (before) return acted(rt, payment, before);
  if (await underWayOf(rt, payment.id))
    return { ok: false, says: said("actions.another-under-way"), open: true };
  // A provider that recognises no repetition is judged by what moved; that has to be counted from what holds now.
  const reading =
    line.profile.operations[kind]?.idempotent === true ? null : await readAtProvider(rt, line, payment);
  if (reading) await recordReading(rt, line.profile, payment, reading, "look-up");
  const { allowed, standing, can } = await possible(rt, payment, line.profile);
  const may = allowed[kind];
  const refused = amountRefused(may, kind === "void" && may.allowed ? may.most : amount);
  if (refused) return { ok: false, says: refused };
  const final =
    kind === "capture" && (press.final === true || amount === standing.held || !can.severalCaptures);
  const { reason, byLines } = press;
  const { operation, statements } = beginning(rt, payment, {
    ...{ kind, amount, once, person, final, before: movedOf(standing) },
    ...(reason && { reason }),
    ...(byLines && { byLines }),
  });
  const detail = { kind, amount, currency: payment.currency, ...(reason && { reason }) };
  const all = [nothingUnderWay(payment.id), ...statements];
  try {
    // What a rehearsal moves is nobody's act: who ran it stands with the rehearsal.
    if (payment.origin === "rehearsal") await rt.db.write(all);
    else await changeSettings(rt, { person, action: `payment ${kind}`, subject: payment.id, detail }, all);
  } catch (error) {
    if (!isConflict(error)) throw error;
    return { ok: false, says: said("actions.same-press-being-carried"), open: true };
  }
  const carried = await carryOut(rt, operation.id, {
    first: true,
    ...(press.patience !== undefined && { patience: press.patience }),
    ...(press.fault && { fault: press.fault }),
  });
  return acted(rt, payment, carried?.operation ?? operation);
}

/** What came of a press, as far as it is known. */
async function acted(rt: Runtime, payment: Payment, { state, says, code, kind }: Operation): Promise<Acted> {
  if (state === "done") return { ok: true, payment: (await paymentOf(rt, payment.id)) ?? payment };
  if (!isUnderWay(state)) return { ok: false, says: says ?? "", ...(code && { code }) };
  return {
    ok: false,
    says: sentences([...(says ? [says] : []), said("actions.looked-up-until-known", { kind })]),
    open: true,
  };
}

/** Says what was done, for the person who did it. */
export const actedWords = (kind: ActionKind, amount: Money): Said => said(`actions.done-${kind}`, { amount });
