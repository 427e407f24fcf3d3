// Moves money of a payment once, as a process that a test can kill at any moment.
import type { ActionKind } from "#core/payments/actions";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { must } from "../../demo/play";

const rt = await openRuntime(readSettings(process.env, { production: true }), { root: process.cwd() });
const payment = must(await paymentOf(rt, process.env.PAYMENT ?? ""), "payment");
const go = new Promise<void>((resolve) => process.once("message", () => resolve()));
process.send?.("ready");
await go;
await act(rt, "ida", payment, {
  kind: process.env.KIND as ActionKind,
  amount: Number(process.env.AMOUNT),
  once: "killed",
});
process.send?.("done");
